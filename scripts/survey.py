"""Plans real parts of a corpus of scores: time as ratios to engraving the same part, findings by code."""

import argparse
import gc
import re
import statistics
import sys
import time
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path

from music21 import corpus

from pathway.core.planning import Plan, plan_part
from pathway.core.planning.helped import fixes_for
from pathway.core.rig import preset
from pathway.errors import PathwayError
from pathway.formats.engraver import engraver
from pathway.formats.score import PartScore, ScoreFile

_STRINGS = re.compile("viol|cello|bass", re.IGNORECASE)
_KINDS = {".mxl", ".xml", ".musicxml", ".krn"}


def main() -> None:
    """Print a row a part and the sums."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--least", type=int, default=700, help="notes of the shortest part to take")
    parser.add_argument("--parts", type=int, default=12)
    parser.add_argument("--every", type=int, default=7, help="take each so-many-th score")
    parser.add_argument("--rounds", type=int, default=5, help="0: count findings only")
    wanted = parser.parse_args()
    gc.set_threshold(50_000, 20, 20)  # as the command line does
    touched, notes, codes = 0, 0, Counter[str]()
    ratios = []
    for found, rig in parts(wanted.least, wanted.every, wanted.parts):
        try:
            plan = plan_part(found.part, preset(rig))
        except PathwayError as refused:
            _say(f"{found.part.name[:20]:20} refused: {refused}")
            continue
        touched += len({note for finding in plan.findings for note in finding.notes})
        notes += len(plan.bowed)
        codes.update(finding.code for finding in plan.findings)
        if wanted.rounds:
            ratios.append(_timed(found, plan, rig, wanted.rounds))
    _say(f"{notes} notes, {100 * touched / max(notes, 1):.1f} % touched: {dict(codes.most_common())}")
    if ratios:
        _say(f"plan ÷ engrave: {min(ratios):.2f} to {max(ratios):.2f}, median {statistics.median(ratios):.2f}")


def _say(text: str) -> None:
    sys.stdout.write(f"{text}\n")
    sys.stdout.flush()


def _timed(found: PartScore, plan: Plan, rig: str, rounds: int) -> float:
    rows = []
    for _ in range(rounds):  # in turn, and the best of each: a machine changes its speed within seconds
        engraved = _seconds(lambda: engraver().draw(found.mei, 900))
        planned = _seconds(lambda: plan_part(found.part, preset(rig)))
        helped = _seconds(lambda: [fixes_for(plan, finding) for finding in plan.findings])
        rows.append((engraved, planned, helped))
    engraved, planned, helped = (min(column) for column in zip(*rows, strict=True))
    plain, whole = planned / engraved, (planned + helped) / engraved
    _say(
        f"{len(plan.bowed):5} notes {len(plan.strokes):5} strokes  engrave {engraved:.2f} s"
        f"  plan {plain:.2f}  with fixes {whole:.2f}"
        f"  {len(plan.findings)} findings",
    )
    return plain


def _seconds(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def parts(least: int, every: int, count: int) -> Iterator[tuple[PartScore, str]]:
    """Yield string parts of enough notes, evenly over the corpus."""
    taken = 0
    scores = sorted(Path(path) for path in corpus.getCorePaths() if Path(path).suffix in _KINDS)
    for path in scores[::every]:
        try:
            score = ScoreFile(path.read_bytes(), path.name)
            for info in score.parts:
                if info.notes < least or not _STRINGS.search(info.name):
                    continue
                yield score.part(info.number), info.guess.rig
                taken += 1
                if taken == count:
                    return
        except PathwayError:
            continue


if __name__ == "__main__":
    main()
