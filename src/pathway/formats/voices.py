"""Two voices on one staff, read as what one player does: double stops where they sound together.

A note that goes on while the other voice moves is cut at the other's notes; what goes on is marked as held. Where a
voice ends and the other goes on alone, the bow keeps both: nothing begins there that could be a note of its own.
"""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

from pathway.core.music import Event


def merged(first: Sequence[Event], second: Sequence[Event]) -> list[Event]:
    """Return the events of two voices as one line, in order of time; grace notes stay with the first voice."""
    graces = [event for event in first if event.grace]
    voices = [[event for event in voice if not event.grace] for voice in (first, second)]
    edges = sorted({edge for voice in voices for event in voice for edge in (event.onset, event.end)})
    result: list[Event] = []
    at = [0, 0]
    for begin, end in pairwise(edges):
        sounding = []
        for n, voice in enumerate(voices):
            while at[n] < len(voice) and voice[at[n]].end <= begin:
                at[n] += 1
            if at[n] < len(voice) and voice[at[n]].onset <= begin:
                sounding.append(voice[at[n]])
        if sounding:
            result.append(_together(sounding, begin, end))
    joined = _rejoined(result)
    return sorted([*graces, *joined], key=lambda event: (event.onset, not event.grace))


def _together(events: Sequence[Event], begin: Fraction, end: Fraction) -> Event:
    """Return what sounds between two edges; the note that begins here gives it its name and its signs."""
    fresh = [event for event in events if event.onset == begin]
    lead = (fresh or events)[0]
    heads = [replace(head, held=event.onset < begin) for event in events for head in event.heads]
    pitches = [head.midi for head in heads]
    heads = [head for i, head in enumerate(heads) if head.midi not in pitches[:i]]  # both voices on one note
    return replace(
        lead,
        onset=begin,
        duration=end - begin,
        heads=tuple(sorted(heads, key=lambda head: head.id != lead.id)),
        marks=frozenset(mark for event in fresh for mark in event.marks),
        bow=next((event.bow for event in fresh if event.bow is not None), None),
        tied=bool(fresh) and all(event.tied for event in fresh) and len(fresh) == len(events),
    )


def _rejoined(events: Sequence[Event]) -> list[Event]:
    """Take pieces in which nothing begins back into the note before: one voice ended, the other went on alone."""
    result: list[Event] = []
    for event in events:
        if result and all(head.held for head in event.heads):
            before = result[-1]
            result[-1] = replace(before, duration=event.end - before.onset)
        else:
            result.append(event)
    return result
