"""How far neighbouring passages lie apart: in level, colour and articulation."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.findings.scene import Scene
from pathway.core.planning.note_plan import NotePlan

THIN_DB, THIN_OCTAVES, THIN_GAP = 2.0, 0.2, 0.1


@dataclass(frozen=True, slots=True)
class Contrast:
    """The step from one passage to the next."""

    before: int  # passages, in the order of the music
    after: int
    level_db: float
    brightness: float  # [octaves]
    gap: float  # silent share of the notes [1]
    first_note: str  # of the later one

    @property
    def thin(self) -> bool:
        """Whether an ear could miss it."""
        near = abs(self.level_db) < THIN_DB and abs(self.brightness) < THIN_OCTAVES
        return near and abs(self.gap) < THIN_GAP


def contrasts(groups: Sequence[Sequence[NotePlan]]) -> list[Contrast]:
    """Return the steps between neighbouring passages, each given by its notes in order."""
    found = []
    for i in range(1, len(groups)):
        if not groups[i - 1] or not groups[i]:
            continue
        one, other = (np.mean([_quality(note) for note in group], axis=0) for group in (groups[i - 1], groups[i]))
        level, colour, gap = (float(step) for step in other - one)
        found.append(Contrast(i - 1, i, level, colour, gap, groups[i][0].id))
    return found


def _quality(note: NotePlan) -> tuple[float, float, float]:
    return note.level_db, note.brightness, 1 - note.sounding / max(note.duration, 1e-6)


def passage_notes(scene: Scene) -> list[list[NotePlan]]:
    """Return the notes of every passage."""
    groups: dict[int, list[NotePlan]] = {}
    asks = [note.ask for stroke in scene.draft.strokes for note in stroke.notes]
    for ask, note in zip(asks, scene.notes, strict=True):
        if ask.passage is not None:
            groups.setdefault(ask.passage, []).append(note)
    return [groups.get(i, []) for i in range(max(groups, default=-1) + 1)]


def contrast_findings(scene: Scene) -> Iterator[Finding]:
    """Yield the neighbours of different character that sound alike."""
    passages = sorted(scene.draft.settings.passages, key=lambda p: scene.draft.part.index[p.start])
    if len(passages) < 2:
        return
    for step in contrasts(passage_notes(scene)):
        one, other = passages[step.before], passages[step.after]
        if not step.thin or one.character == other.character:
            continue
        numbers = {"level_db": step.level_db, "brightness": step.brightness}
        facts = {"this": other.character, "before": one.character}
        bar = scene.draft.part.bar[step.first_note]
        yield Finding(Code.CONTRAST_THIN, Severity.LOW, (step.first_note,), bar, numbers, facts)
