"""From the hair to the strokes: how each begins, joins the next or ends, what moves it and what it has in hand."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.planning.notes.joins import exit_of, exit_time, join_dips
from pathway.core.planning.notes.onsets import Sounds
from pathway.core.planning.notes.rows import Rows
from pathway.core.planning.path.problem import PathProblem
from pathway.core.planning.plan import StrokePlan
from pathway.core.planning.strokes.stroke import Stroke
from pathway.core.planning.wishes import Link
from pathway.core.rig.bow import EARLY_HOLDS, Direction
from pathway.core.rig.instrument import Rig
from pathway.core.technique.endings import Exit
from pathway.core.technique.limbs import Limb, Motion, limb_of
from pathway.core.technique.stroke_types import Contact

_LINKS = {int(link): link for link in Link}
_DIRECTIONS = {int(direction): direction for direction in Direction}


@dataclass(frozen=True)
class StrokeTable:
    """What becomes of some strokes, one a row; arrays of shape (K,)."""

    rows: Rows
    dips: FloatArray  # of the tone where the bow turns into the next stroke [s]
    sounding: FloatArray  # of the last note [s]
    in_hand: FloatArray  # how much longer each could last [s]

    @classmethod
    def of(cls, rows: Rows, problem: PathProblem, last: Sounds) -> "StrokeTable":
        """Return what becomes of some strokes whose last notes sound as given."""
        path, some, columns = rows.path, np.array(rows.strokes), rows.asked.columns
        every = rows.draft.asked
        following = np.append(every.notes.sounding[every.columns.firsts], np.inf)[some + 1]
        (low, high), starts = rows.draft.rig.usable, path.starts[some]
        ahead = np.where(path.directions[some] > 0, high - starts, starts - low)
        return cls(
            rows,
            dips=join_dips(last, rows.hair.closing[rows.lasts], following, rows.draft.rig),
            sounding=last.sounding,
            in_hand=ahead / problem.slowest[some] * columns.bows - columns.moving,
        )

    def stroke(self, n: int) -> StrokePlan:
        """Return one stroke."""
        k, draft, path = self.rows.strokes[n], self.rows.draft, self.rows.path
        segment, start, end = draft.strokes[k], float(path.starts[k]), float(path.ends[k])
        note, lock = segment.notes[-1], self.rows.locks.get(segment.id)
        names = tuple(lock.names) if lock else ()
        final = k + 1 == len(draft.strokes)
        following = None if final else _LINKS[int(path.links[k + 1])]
        how = self._exit(k, following, lock.exit if lock else None)
        sounding = float(self.sounding[n])
        joins = how is Exit.JOINED and following is Link.CHANGE
        return StrokePlan(
            id=segment.id,
            direction=_DIRECTIONS[int(path.directions[k])],
            kind=segment.kind.key,
            notes=tuple(one.event.id for one in segment.notes),
            bows=segment.bows,
            start=start,
            end=end,
            begin=segment.begin,
            finish=note.begin + sounding,
            entry=_LINKS[int(path.links[k])],
            exit=how,
            printed=segment.printed is not None and "direction" not in names,
            locks=names,
            profile=segment.profile,
            proposed=segment.proposed,
            in_hand=float(self.in_hand[n]),
            lowest_tempo=float(draft.lowest_tempi[k]),
            dip=float(self.dips[n]) if joins else 0.0,
            exit_time=exit_time(how, max(0.0, note.end - note.begin - sounding)),
            from_air=bool(self.rows.from_air[n]),
            kept_down=_kept_down(draft.strokes, k),
            limb=_limb(segment, start, end, float(draft.rates[k]), draft.rig),
        )

    def _exit(self, k: int, following: Link | None, wish: Exit | None) -> Exit:
        """Return how a stroke ends: as wished, else by its manner and what comes after it."""
        if wish is not None:
            return wish
        strokes = self.rows.draft.strokes
        how = exit_of(strokes[k].kind, following, 1.0 if following is None else strokes[k + 1].rest_before)
        rings = how is Exit.JOINED and following is not None and self.rows.out_of_ring(k + 1)
        return Exit.RINGING if rings else how


def _limb(stroke: Stroke, start: float, end: float, rate: float, rig: Rig) -> Limb:
    off, early = stroke.kind.contact is not Contact.ON, rig.hold.name in EARLY_HOLDS
    return limb_of(Motion(abs(end - start), (start + end) / 2, rig.bow.hair, rate, off, early))


def _kept_down(strokes: Sequence[Stroke], k: int) -> bool:
    """Whether a stroke stays on the string between two that leave it, so that the next one has to begin anew."""
    on = strokes[k].kind.contact is Contact.ON and strokes[k].rest_before == 0
    inner = 0 < k < len(strokes) - 1
    return on and inner and all(strokes[k + by].kind.contact is not Contact.ON for by in (-1, 1))
