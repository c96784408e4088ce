"""A stroke to be on its strings: what one travel of the bow carries, and where the left hand plays it."""

from collections.abc import Collection, Mapping, Sequence

from msgspec import structs

from pathway.core.music import Part
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.segments import FIRST_BEAT, Segment, first_notes, strength_at
from pathway.core.planning.wishes import Lock
from pathway.core.technique.double_stops import usual_lead


class Stroke(Segment, frozen=True):
    """A segment with the placements of its notes."""

    placements: tuple[Placement, ...] = ()

    @classmethod
    def of(cls, segment: Segment, placements: tuple[Placement, ...]) -> "Stroke":
        """Return a segment on its strings; itself, if it lies there already."""
        if isinstance(segment, Stroke) and segment.placements == placements:
            return segment
        s = segment
        return cls(
            s.notes, s.kind, s.rest_before, s.printed, s.strength, s.first_of_bar, s.upbeat, s.grows, s.profile,
            s.proposed, placements,
        )  # fmt: skip


def on_strings(
    segments: Sequence[Segment],
    placements: Sequence[Placement],
    locks: Mapping[str, Lock],
    anew: Collection[int] | None = None,
) -> list[Stroke]:
    """Return segments on their strings.

    Args:
        segments: as read off the part; those that are strokes already and lie as they did are taken over.
        placements: of every note of every segment, in order.
        locks: the player's, by note: they say which voice leads, else the passage does.
        anew: the segments to be looked at; all others are strokes that lie as they did.
    """
    leads = {note: lock.lead for note, lock in locks.items() if lock.lead is not None}

    def placed(segment: Segment, first: int) -> Stroke:
        own = tuple(placements[first : first + len(segment.notes)])
        if any(len(one.strings) > 1 for one in own):
            pairs = zip(segment.notes, own, strict=True)
            asked = ((leads.get(note.event.id) or note.ask.lead, one) for note, one in pairs)
            own = tuple(one.led(lead or usual_lead(one.pitches)) for lead, one in asked)
        return Stroke.of(segment, own)

    firsts = first_notes(segments).tolist()
    return [
        placed(segment, firsts[k]) if anew is None or k in anew or not isinstance(segment, Stroke) else segment
        for k, segment in enumerate(segments)
    ]


def divided(part: Part, stroke: Stroke, at: int) -> tuple[Stroke, Stroke]:
    """Return a stroke cut in two before one of its notes, as a proposal."""
    notes = stroke.notes[at:]
    strength = strength_at(part, notes[0])
    first = structs.replace(stroke, notes=stroke.notes[:at], placements=stroke.placements[:at], upbeat=False)
    second = structs.replace(
        stroke,
        notes=notes,
        placements=stroke.placements[at:],
        rest_before=0.0,
        printed=None,
        strength=strength,
        first_of_bar=strength == FIRST_BEAT,
        proposed=True,
    )
    return first, second
