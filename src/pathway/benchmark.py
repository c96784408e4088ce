"""Planning speed on generated parts, told as ratios to engraving the same part in the same run."""

import random
import statistics
import time
from collections.abc import Callable, Iterator, Sequence

from pathway.core.planning import Lock, plan_part, replan
from pathway.core.planning.helped import fixes_for
from pathway.core.practice.drill import DrillAsk, Stage
from pathway.core.practice.making import opened
from pathway.core.rig import preset
from pathway.core.sound import playable, render
from pathway.core.sound.spans import spans_of
from pathway.formats.engraver import engraver
from pathway.formats.score import ScoreFile

_ROUNDS, _EDITS, _SAMPLE = 5, 30, 8  # of findings whose helps are tried, told for all of them
_HEAD = (
    '<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Violin</part-name></score-part>'
    '</part-list><part id="P1">'
)
_FIRST = (
    "<attributes><divisions>4</divisions><key><fifths>1</fifths></key><time><beats>4</beats><beat-type>4</beat-type>"
    "</time><clef><sign>G</sign><line>2</line></clef></attributes>"
)


def generated_part(notes: int, seed: int = 1) -> bytes:
    """Return a violin part of about so many notes in quarters, slurred eighths, sixteenths and rests."""
    chance = random.Random(seed)
    bars: list[str] = []
    count = 0
    while count < notes:
        inner, beats = [], 0
        while beats < 4:
            kind = chance.choice(["quarter", "slur", "run", "rest"] if count % 40 > 35 else ["quarter", "slur", "run"])
            made = _beat(kind, chance)
            inner.append(made)
            count += made.count("<pitch>")
            beats += 1
        level = chance.choice(["p", "mf", "f"])
        mark = f"<direction><direction-type><dynamics><{level}/></dynamics></direction-type></direction>"
        opening = (_FIRST if not bars else "") + (mark if len(bars) % 4 == 0 else "")
        bars.append(f'<measure number="{len(bars) + 1}">{opening}{"".join(inner)}</measure>')
    return (_HEAD + "".join(bars) + "</part></score-partwise>").encode()


def _beat(kind: str, chance: random.Random) -> str:
    if kind == "rest":
        return "<note><rest/><duration>4</duration><voice>1</voice><type>quarter</type></note>"
    count, name = {"quarter": (1, "quarter"), "slur": (2, "eighth"), "run": (4, "16th")}[kind]
    made = []
    for i in range(count):
        step, octave = chance.choice("GABCDEF"), chance.choice([4, 4, 5])
        slur = {0: "start", count - 1: "stop"}.get(i) if kind == "slur" else None
        notations = f'<notations><slur type="{slur}" number="1"/></notations>' if slur else ""
        made.append(
            f"<note><pitch><step>{step}</step><octave>{octave}</octave></pitch><duration>{4 // count}</duration>"
            f"<voice>1</voice><type>{name}</type>{notations}</note>"
        )
    return "".join(made)


def _best(*works: Callable[[], object]) -> list[float]:
    """Return the shortest of a few runs of each [s]; they take turns, since a computer is not always as fast."""
    rounds = []
    for _ in range(_ROUNDS):
        times = []
        for work in works:
            start = time.perf_counter()
            work()
            times.append(time.perf_counter() - start)
        rounds.append(times)
    return [min(times) for times in zip(*rounds, strict=True)]


def measure(sizes: Sequence[int]) -> Iterator[tuple[str, ...]]:
    """Yield a row for each size: notes, engraving, planning, with what helps, one edit, ratios; sound, drill."""
    rig = preset("violin")
    for size in sizes:
        found = ScoreFile(generated_part(size), "generated.musicxml").part(1)
        engraved, planned = _best(
            lambda mei=found.mei: engraver().draw(mei, 900),  # type: ignore[misc]
            lambda part=found.part: plan_part(part, rig),  # type: ignore[misc]
        )
        plan = plan_part(found.part, rig)
        some = plan.findings[:: max(1, len(plan.findings) // _SAMPLE)]
        start = time.perf_counter()
        for finding in some:
            fixes_for(plan, finding)
        helped = (time.perf_counter() - start) * len(plan.findings) / max(len(some), 1)
        chance, edits = random.Random(size), []
        for _ in range(_EDITS):
            stroke = chance.choice(plan.strokes)
            start = time.perf_counter()
            replan(plan, [Lock(stroke.id, stroke.direction.other)])
            edits.append(time.perf_counter() - start)
        edit = statistics.median(edits)
        played = playable(plan)
        begin, end = spans_of(plan)[1]
        asked = DrillAsk(
            "tempo-ladder", "the hair", Stage.BARS, plan.bowed[0].id, plan.bowed[min(8, len(plan.bowed) - 1)].id
        )
        drill, rendered = _best(
            lambda plan=plan, asked=asked: opened(asked, rig, plan),  # type: ignore[misc]
            lambda: render(played, begin, end),  # noqa: B023
        )
        heard = render(played, begin, end).seconds / rendered
        yield (
            str(len(found.part.events)),
            f"{engraved:.3f}",
            f"{planned:.3f}",
            f"{planned / engraved:.2f}",
            f"{1e6 * planned / len(plan.strokes):.0f}",
            f"{(planned + helped) / engraved:.2f}",
            f"{1000 * edit:.0f}",
            f"{edit / engraved:.2f}",
            f"{heard:.0f}",
            f"{drill / engraved:.2f}",
        )
