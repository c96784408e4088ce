"""Real scores, read a second way: pitches, onsets and durations agree note by note."""

import warnings
from itertools import islice
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from pathway.core.music import Part
from pathway.core.planning import plan_part
from pathway.core.planning.wishes import Link
from pathway.core.rig import preset
from pathway.errors import ScoreError
from pathway.formats.score import ScoreFile, at_pitch
from tests.helpers import broken_rules_of, part_of

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import music21
    from music21 import converter, corpus

Played = list[tuple[float, float, tuple[int, ...]]]
BROKEN = 2  # scores in the sample whose bars do not add up, so that two readers may count on differently


def _sample(suffix: str, folders: tuple[str, ...], count: int) -> list[Path]:
    """Every so-many-th score of a kind, evenly over the corpus."""
    found = sorted(
        p
        for p in corpus.getCorePaths()
        if p.suffix == suffix and (not folders or p.parts[-2] in folders or p.parts[-3] in folders)
    )
    return list(islice(found, 0, None, max(1, len(found) // count)))[:count]


def _ours(part: Part) -> Played:
    return [
        (float(e.onset), float(e.duration), tuple(sorted(h.midi for h in e.heads))) for e in part.events if not e.grace
    ]


def _theirs(path: Path, number: int) -> Played:
    """The first voice of a part, as the other reader has it."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        part = converter.parse(path).parts[number - 1]
    found = []
    for measure in part.getElementsByClass(music21.stream.Measure):
        voices = list(measure.voices)
        offset = measure.offset + (voices[0].offset if voices else 0)
        for note in (voices[0] if voices else measure).notes:
            if note.duration.isGrace or "Harmony" in note.classes:
                continue
            pitches = tuple(sorted(int(p.ps) for p in note.pitches))
            found.append((float(offset + note.offset), float(note.duration.quarterLength), pitches))
    return found


def _agree(ours: Played, theirs: Played) -> bool:
    return len(ours) == len(theirs) and all(
        a[2] == b[2] and abs(a[0] - b[0]) < 2e-3 and abs(a[1] - b[1]) < 2e-3 for a, b in zip(ours, theirs, strict=True)
    )


@pytest.mark.parametrize(("suffix", "count"), [(".mxl", 16), (".krn", 8), (".xml", 6)])
@pytest.mark.filterwarnings("ignore")
def test_real_scores_are_read_as_by_another_reader(suffix: str, count: int) -> None:
    """Compressed and plain MusicXML and Humdrum, chosen evenly from a corpus nobody here wrote."""
    differing = []
    for path in _sample(suffix, (), count):
        score = ScoreFile(path.read_bytes(), path.name)
        entry = score.find()
        ours = _ours(score.part(entry.number).part)
        assert ours
        if not _agree(ours, _theirs(path, entry.number)):
            differing.append(path.name)
    assert len(differing) <= BROKEN, differing


@pytest.mark.filterwarnings("ignore")
def test_plans_of_real_parts_keep_every_rule_and_sound_like_players() -> None:
    """Bars mostly begin strong, long slurs are hardly ever hooked, findings touch few notes."""
    strong, firsts, hooks, strokes, touched, notes, planned = 0, 0, 0, 0, 0, 0, 0
    folders = ("mozart", "haydn", "k156", "k155", "opus74no1", "k80")
    for path in _sample(".mxl", folders, 4):
        score = ScoreFile(path.read_bytes(), path.name)
        found, rig = score.part(1).part, preset(score.find(1).guess.rig)
        try:
            plan = plan_part(at_pitch(found, rig), rig)
        except ScoreError:
            continue
        planned += 1
        assert broken_rules_of(plan) == []
        for segment, stroke in zip(plan.draft.strokes, plan.strokes, strict=True):
            firsts += segment.first_of_bar
            strong += segment.first_of_bar and stroke.direction > 0
            hooks += stroke.entry is Link.HOOK and len(stroke.notes) >= 3
        strokes += len(plan.strokes)
        notes += len(plan.notes)
        touched += len({note for finding in plan.findings for note in finding.notes})
    assert planned >= 3
    assert strong / firsts > 0.65
    assert hooks / strokes < 0.02
    assert touched / notes < 0.05


PITCHES = ("g3", "d4", "e4", "f#4", "a4", "b4", "c5", "e5")
NOTES = st.lists(
    st.tuples(st.sampled_from(PITCHES), st.sampled_from(["", ".", ">", "-", "!"]), st.sampled_from(["", "v", "n"])),
    min_size=8,
    max_size=8,
)


@settings(max_examples=20)
@given(NOTES, st.lists(st.booleans(), min_size=4, max_size=4), st.sampled_from(["p", "mf", "f"]), st.integers(40, 160))
def test_plans_of_generated_bars_keep_every_rule(
    notes: list[tuple[str, str, str]], slurs: list[bool], level: str, tempo: int
) -> None:
    """Any pitches, signs, bow marks and slurs: the plan obeys its rules, and every printed mark."""
    tokens = []
    for i in range(0, 8, 2):
        (one, mark, bow), (two, other, _) = notes[i], notes[i + 1]
        tokens += [f"{bow}({one}{mark}", f"{two}{other})"] if slurs[i // 2] else [f"{bow}{one}{mark}", f"{two}{other}"]
    part = part_of(f"[{level}] " + " ".join(tokens[:4]) + " | " + " ".join(tokens[4:]), tempo=str(tempo))
    plan = plan_part(part, preset("violin"))
    assert broken_rules_of(plan) == []
    assert sum(len(stroke.notes) for stroke in plan.strokes) == len(part.events)
