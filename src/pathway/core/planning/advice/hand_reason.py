"""Why a note lies on its string under its finger."""

from pathway.core.guide.positions import hand_text
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan
from pathway.core.technique.fingers import OPEN
from pathway.core.technique.voicings import HIGHEST


def hand_reason(plan: Plan, note: NotePlan) -> str:
    """Return what decided the string and the finger of a note under the bow, in words."""
    voice = note.lead
    letter = plan.rig.instrument.strings[voice.string].letter
    return hand_text(_decided(plan, note), letter, voice.finger, note.position, plan.rig.instrument)


def _decided(plan: Plan, note: NotePlan) -> str:
    """Return the code of the first of the reasons there may be that holds."""
    i = plan.draft.note_index[note.id]
    event, lock, voice, k = plan.draft.bowed[i], plan.locks.get(note.id), note.lead, plan.draft.stroke_at(i)
    ask = plan.draft.strokes[k].notes[i - plan.draft.first_notes[k]].ask
    holding = [string for string in plan.rig.instrument.strings if 0 <= voice.midi - string.midi <= HIGHEST]
    before = plan.bowed[max(i - 1, 0)]
    same, stays = before.lead.string == voice.string, note.position == before.position
    reasons = {
        "set": lock is not None and (lock.string is not None or lock.finger is not None),
        "printed finger": any(head.finger is not None and head.finger == voice.finger for head in event.heads),
        "printed string": any(head.string is not None for head in event.heads),
        "asked": ask.string == voice.string,
        "only": len(holding) == 1,
        "open": voice.finger == OPEN,
        "first": i == 0,
        "same string": stays and same,
        "stays": stays,
        "line": same,
    }
    return next((code for code, holds in reasons.items() if holds), "near")
