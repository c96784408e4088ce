"""What will go wrong, in a player's words: one sentence or two for every code, made from its numbers and facts."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from pathway.core.guide.speech import PLAIN, Speech


@dataclass(frozen=True, slots=True)
class Case:
    """One finding as it is told: where, and by which numbers [SI] and facts."""

    code: str
    bar: str
    also: Sequence[str]  # further bars that it holds for
    numbers: Mapping[str, float]
    facts: Mapping[str, str]
    say: Speech

    def __getitem__(self, name: str) -> float:
        return self.numbers[name]

    def length(self, name: str, digits: int = 0) -> str:
        """Return a length among the numbers, as it is told."""
        return str(self.say.length(abs(self.numbers[name]), digits))

    def speed(self, name: str) -> str:
        """Return a speed among the numbers, as it is told."""
        return str(self.say.speed(self.numbers[name]))

    def ms(self, name: str) -> str:
        """Return a short time among the numbers."""
        return f"{1000 * self.numbers[name]:.0f} ms"

    @property
    def crossing(self) -> str:
        """Return between which strings it happens."""
        return f"from {self.facts['from']} to {self.facts['to']}"


def finding_text(
    code: str,
    bar: str,
    also: Sequence[str],
    numbers: Mapping[str, float],
    facts: Mapping[str, str],
    say: Speech = PLAIN,
) -> str:
    """Return a finding in a player's words.

    Args:
        code: of the finding.
        bar: in which it is told.
        also: further bars that it holds for.
        numbers: [SI], by names that end with their unit.
        facts: names of strings, directions, manners.
        say: how the player is told lengths, weights and names.
    """
    case = Case(code, bar, also, numbers, facts, say)
    text = f"Bar {bar}: {SENTENCES[code](case)}"
    if not also:
        return text
    more = f"Also bar {also[0]}." if len(also) == 1 else f"Also {len(also)} more bars, the last {also[-1]}."
    return f"{text} {more}"


def _runs_out(c: Case) -> str:
    how = c.facts["how"]
    if how == "divided":
        return (
            f"the slur lasts {c['lasts_s']:.1f} s; no bow is that long. The plan changes it at "
            f"bar {c.facts['change_bar']}, beat {c.facts['change_beat']}. It fits into one bow from "
            f"{c['fits_from_bpm']:.0f} a minute."
        )
    what = f"this bow of {c['notes']:.0f} notes" if c["notes"] > 1 else "this stroke"
    if how == "starved":
        return (
            f"{what} lasts {c['lasts_s']:.1f} s; even at half its slowest speed it needs more hair than there is. "
            f"It fits from {c['fits_from_bpm']:.0f} a minute."
        )
    at_ease = f"It fits at ease from {c['fits_from_bpm']:.0f} a minute."
    if how == "softer":
        return (
            f"{what} gets {c.length('length_m')} for {c['lasts_s']:.1f} s. It will sound about "
            f"{-c['softer_db']:.0f} dB softer than it should. Divide it, or come with more hair in hand. {at_ease}"
        )
    return (
        f"{what} ends {c.length('left_m')} from the {c.facts['end']} and has to be saved on the way: "
        f"{c.speed('speed_m_s')} where you would take {c.say.speed(c['preferred_m_s']).number}. {at_ease}"
    )


def _speed_spike(c: Case) -> str:
    return (
        f"this note has to give back in {c['lasts_s']:.1f} s what the bow before took. It goes "
        f"{c['speed_m_s'] / c['before_m_s']:.1f} times as fast and will stick out."
    )


def _stuck(c: Case) -> str:
    return (
        f"{c['strokes']:.0f} strokes are played in the last {c.length('within_m')} at the {c.facts['end']}; they would "
        f"lie {c.length('beyond_m')} further in. Use a longer stroke before to get away, or a retake."
    )


def _retake_no_time(c: Case) -> str:
    return (
        f"the bow has to come back {c.length('way_m')} and {c['missing_s']:.1f} s are missing. Leave a gap before, or "
        "turn one of the bows."
    )


def _buried_note(c: Case) -> str:
    return (
        f"the short note comes {c['under_db']:.0f} dB softer out of the long one before it and is swallowed. Load the "
        "long one at its start and let it fade, leave a gap, or draw the short one quicker."
    )


def _repeat_seam(c: Case) -> str:
    same = "ends on the bow it begins with"
    why = same if c.facts["how"] == "same bow" else f"ends {c.length('way_m')} away from where it begins"
    return f"the repeat {why}. Take time to set the bow again, or turn one bow on the way."


def _no_window(c: Case) -> str:
    return (
        f"at {c.speed('speed_m_s')} and {c.length('contact_m', 1)} from the bridge no weight gives a clean tone. Go "
        "further from the bridge, or faster."
    )


def _airy(c: Case) -> str:
    return (
        f"too light for this place; the tone turns airy. It wants {c.say.weight(c['least_n'])} or more: less hair, or "
        "further from the bridge."
    )


def _heavy_hand(c: Case) -> str:
    return (
        f"{c['seconds_s']:.0f} s of the minute around it ask for nearly all the moment of your hand. Play nearer the "
        "middle where you can, and rest before repeating it."
    )


def _speaks_late(c: Case) -> str:
    return (
        f"on the {c.facts['string']} string a note needs {c.ms('speak_s')} to speak and this one lasts "
        f"{1000 * c['sounds_s']:.0f}. Start it firmly, a little nearer the fingerboard."
    )


def _join_heard(c: Case) -> str:
    return (
        f"the change after this bow is the most audible one: the tone dips for {c.ms('dip_s')}. Slow the last "
        f"{c.say.length(0.02)} to six tenths, take a quarter of the weight off, and near the frog tilt 10° more."
    )


def _hair_too_wide(c: Case) -> str:
    return (
        f"even {1000 * c['hair_m']:.0f} mm of hair are wide for {c.length('string_m')} of string: the tone loses its "
        "edge. Tilt as far as you can."
    )


def _off_square(c: Case) -> str:
    return (
        f"a whole bow close to the bridge forgives {math.degrees(c['tolerance_rad']):.1f}° of slant before it leaves "
        "its lane. Watch it in a mirror once."
    )


def _shift_heard(c: Case) -> str:
    return (
        f"the hand shifts inside the slur in {c.ms('time_s')}; it will be heard in the bow. Shift on an open string or "
        "a gap, or lighten for it."
    )


def _too_fast(c: Case) -> str:
    caught = c.facts["why"] == "string"
    why = "the string takes longer to be loaded and let go" if caught else f"it works up to {c['most']:.0f}"
    other = c.facts.get("other")
    advice = f"Play {c.say.manner(other)} instead." if other else "Slow down, or slur some of them."
    return f"{c['rate']:.1f} notes a second are too fast for {c.say.manner(c.facts['type'])}: {why}. {advice}"


def _rate_mismatch(c: Case) -> str:
    if c.facts["why"] == "too slow":
        manner = c.say.manner(c.facts["type"])
        return f"{c['rate']:.1f} a second are too slow for {manner}; the bow only throws. Play spiccato."
    own = c.facts["why"] == "own"
    whose = f"yours runs at {c['own']:.1f}" if own else f"it runs by itself between {c['low']:.0f} and {c['high']:.0f}"
    way = "faster" if c["rate"] > c["low"] else "slower"
    return f"these notes want {c['rate']:.1f} a second; {whose}, not {way}. Place each note, or take another tempo."


def _bounce_height(c: Case) -> str:
    return (
        f"the bow would fly {1000 * c['height_m']:.0f} mm high and comes back too late. Stay lower, tilt less, or lead "
        "it with the hand on the string."
    )


def _bounce_place(c: Case) -> str:
    by_hand = "thrown notes as slow as these are led by the hand"
    answers = f"the bow answers {c['bow']:.1f} times a second here and you want {c['rate']:.1f}"
    why = by_hand if c.facts["why"] == "led" else answers
    return f"{why}; the place for it lies {c.length('off_m')} nearer the {c.facts['side']}."


def _uneven_accents(c: Case) -> str:
    return (
        f"accents on the {c.facts['weak']} come {abs(c['down_db'] - c['up_db']):.0f} dB weaker than the others. Play "
        "them nearer the middle, shorter, or with more moment of the hand."
    )


def _string_imbalance(c: Case) -> str:
    side = "softer" if c["off_db"] < 0 else "louder"
    return f"the {c.facts['string']} string comes out {abs(c['off_db']):.1f} dB {side} than the rest asks for."


def _crossing_fast(c: Case) -> str:
    return (
        f"{c.crossing} the hand has to travel {c.length('travel_m')} in {c.ms('time_s')}. Play it nearer the frog, on "
        "one string, or slur it."
    )


def _crossing_hard(c: Case) -> str:
    return (
        f"{c['crossings']:.0f} crossings {c.crossing} and back go the hard way round. Begin on the other bow, or take "
        "one note on another string."
    )


def _skip_no_time(c: Case) -> str:
    over = "the string" if c["skips"] == 1 else f"{c['skips']:.0f} strings"
    return (
        f"{c.crossing} the bow has {c.ms('time_s')} to {c.facts['how']} over {over} between. Leave a gap before it, or "
        "play one note on another string."
    )


def _angle_carried(c: Case) -> str:
    side = "fingerboard" if c["drift_m"] > 0 else "bridge"
    return (
        f"{c.crossing} the stick has to turn by {abs(math.degrees(c['turn_rad'])):.0f}°. Carried over as it was, the "
        f"hair would slide {c.length('drift_m', 1)} towards the {side}."
    )


def _voice_lost(c: Case) -> str:
    which, under = c.facts["voice"], c["under_db"]
    if c.facts["how"] == "airy":
        return f"the {which} voice has too little weight to speak. Lean the level towards it, or let it lead."
    if under > 0:
        return f"the {which} voice comes {under:.0f} dB under the other. Let it lead, or go to a place between."
    return f"the {which} voice comes {-under:.0f} dB over the one that should lead. Let it lead, or lean away."


def _chord_out_of_reach(c: Case) -> str:
    f = c.facts
    why = {
        "too many": f"has more notes than the {f.get('strings', '')} strings",
        "too low": f"goes below the lowest string with {f.get('low', '')}",
        "one string": f"has {f.get('low', '')} and {f.get('high', '')} on one string",
        "spread": "leaves a silent string between, or is spread too wide for one hand",
    }[f["why"]]
    if "easier" not in f:
        return f"{f['chord']} {why}. Leave out all but the top note."
    moved = f"{f.get('moved', '')} sounds an octave {f.get('octave', '')}"
    lost = f"{f.get('lost', '')} {'are' if ' and ' in f.get('lost', '') else 'is'} lost"
    return f"{f['chord']} {why}. Easier: {f['easier']}; {moved if 'moved' in f else lost}."


def _contrast_thin(c: Case) -> str:
    this, before = c.facts["this"] or "this passage", c.facts["before"] or "the one before"
    return (
        f"{this} after {before} differs by {abs(c['level_db']):.1f} dB and hardly in colour. Change level, colour or "
        "articulation of one."
    )


SENTENCES: Mapping[str, Callable[[Case], str]] = {
    "runs-out": _runs_out,
    "speed-spike": _speed_spike,
    "stuck": _stuck,
    "retake-no-time": _retake_no_time,
    "buried-note": _buried_note,
    "repeat-seam": _repeat_seam,
    "no-window": _no_window,
    "airy": _airy,
    "pressed": lambda _: "too heavy for this speed; the tone grates. More hair, or nearer the fingerboard.",
    "choked": lambda _: (
        "this start lies outside what the string takes; the note begins mute or scratches. Set it with "
        "more weight, or gather speed more quickly."
    ),
    "level-short": lambda c: (
        f"about {-c['short_db']:.0f} dB softer than written; the bow cannot go closer or faster here."
    ),
    "heavy-hand": _heavy_hand,
    "speaks-late": _speaks_late,
    "join-heard": _join_heard,
    "wood-contact": lambda _: (
        "the stick comes down on the string at this weight and tilt. Flatten the bow, or give more hair."
    ),
    "hair-too-wide": _hair_too_wide,
    "off-square-sensitive": _off_square,
    "shift-heard": _shift_heard,
    "too-fast-for-type": _too_fast,
    "rate-mismatch": _rate_mismatch,
    "bounce-height": _bounce_height,
    "bounce-place": _bounce_place,
    "uneven-accents": _uneven_accents,
    "string-imbalance": _string_imbalance,
    "crossing-fast": _crossing_fast,
    "crossing-hard": _crossing_hard,
    "skip-no-time": _skip_no_time,
    "angle-carried": _angle_carried,
    "voice-lost": _voice_lost,
    "chord-out-of-reach": _chord_out_of_reach,
    "contrast-thin": _contrast_thin,
}
