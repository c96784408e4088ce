"""What will go wrong, in a player's words: sentences made from the numbers [SI] and the facts of a finding."""

import math
from collections.abc import Callable, Mapping, Sequence
from string import Formatter
from typing import Any

from pathway.core.guide.speech import PLAIN, Speech


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
        facts: names of strings, directions, manners; ``how`` tells kinds of one code apart.
        say: how the player is told lengths, weights and names.
    """
    sentence = SENTENCES[code]
    words = sentence if isinstance(sentence, str) else sentence[facts["how"]]
    made = {name: make(numbers, facts) for name, make in _MADE.items() if f"{{{name}}}" in words}
    text = f"Bar {bar}: {_Telling(say).vformat(words, (), {**numbers, **facts, **made})}"
    if not also:
        return text
    return f"{text} " + (
        f"Also bar {also[0]}." if len(also) == 1 else f"Also {len(also)} more bars, the last {also[-1]}."
    )


class _Telling(Formatter):
    """Fills sentences: ``{way_m:length}``, ``{rate:.1f}``, ``{type:manner}``."""

    def __init__(self, say: Speech) -> None:
        self._say: Mapping[str, Callable[[Any], object]] = {
            "length": lambda metres: say.length(abs(metres)),
            "length.1": lambda metres: say.length(abs(metres), 1),
            "speed": say.speed,
            "pace": lambda metres_a_second: say.speed(metres_a_second).number,  # beside another speed
            "weight": say.weight,
            "manner": say.manner,
            "ms": lambda seconds: f"{1000 * seconds:.0f}",
            "mm": lambda metres: f"{1000 * metres:.0f}",
            "deg": lambda radians: f"{abs(math.degrees(radians)):.0f}",
            "deg.1": lambda radians: f"{abs(math.degrees(radians)):.1f}",
            "size": lambda value: f"{abs(value):.0f}",
            "size.1": lambda value: f"{abs(value):.1f}",
            "2cm": lambda _: say.length(0.02),
        }

    def format_field(self, value: Any, format_spec: str) -> str:
        """Return one value as its specification asks for."""
        tell = self._say.get(format_spec)
        return str(tell(value)) if tell else str(super().format_field(value, format_spec))


_CHORDS: Mapping[str, str] = {
    "too many": "has more notes than the {strings} strings",
    "too low": "goes below the lowest string with {low}",
    "one string": "has {low} and {high} on one string",
    "spread": "leaves a silent string between, or is spread too wide for one hand",
    "beyond": "lies further apart than a hand holds: in {position} its fingers span {spans} semitones",
}


_Make = Callable[[Mapping[str, float], Mapping[str, str]], str]
_MADE: Mapping[str, _Make] = {
    "what": lambda n, _: f"this bow of {n['notes']:.0f} notes" if n["notes"] > 1 else "this stroke",
    "times": lambda n, _: f"{n['speed_m_s'] / n['before_m_s']:.1f}",
    "louder": lambda n, _: "softer" if n["off_db"] < 0 else "louder",
    "weaker": lambda n, _: f"{abs(n['down_db'] - n['up_db']):.0f}",
    "quicker": lambda n, _: "faster" if n["rate"] > n["low"] else "slower",
    "strings_between": lambda n, _: "the string" if n["skips"] == 1 else f"{n['skips']:.0f} strings",
    "aside": lambda n, _: "fingerboard" if n["drift_m"] > 0 else "bridge",
    "this_passage": lambda _, f: f["this"] or "this passage",
    "passage_before": lambda _, f: f["before"] or "the one before",
    "elsewhere": lambda _, f: (
        "Play it in another octave, or tune a string for it."
        if f["side"] == "below"
        else "Play it in another octave, or take another instrument."
    ),
    "unplayable": lambda _, f: _CHORDS[f["why"]].format(**f),
    "voicing": lambda _, f: _voicing(f),
}


def _voicing(f: Mapping[str, str]) -> str:
    if "easier" not in f:
        return "Leave out all but the top note."
    lost = f"{f['lost']} {'are' if ' and ' in f['lost'] else 'is'} lost"
    return (
        f"Easier: {f['easier']}; {f['moved']} sounds an octave {f['octave']}."
        if "moved" in f
        else (f"Easier: {f['easier']}; {lost}.")
    )


_AT_EASE = "It fits at ease from {fits_from_bpm:.0f} a minute."
_BY_ITSELF = "these notes want {rate:.1f} a second; {whose}, not {quicker}. Place each note, or take another tempo."
_TOO_FAST = "{rate:.1f} notes a second are too fast for {type:manner}: {why}. {advice}"
_LONGER, _UP_TO = "the string takes longer to be loaded and let go", "it works up to {most:.0f}"
_OTHER, _SLOWER = "Play {other:manner} instead.", "Slow down, or slur some of them."

SENTENCES: Mapping[str, str | Mapping[str, str]] = {
    "runs-out": {
        "divided": "the slur lasts {lasts_s:.1f} s; no bow is that long. The plan changes it at bar {change_bar}, beat "
        "{change_beat}. It fits into one bow from {fits_from_bpm:.0f} a minute.",
        "starved": "{what} lasts {lasts_s:.1f} s; even at half its slowest speed it needs more hair than there is. It "
        "fits from {fits_from_bpm:.0f} a minute.",
        "softer": "{what} gets {length_m:length} for {lasts_s:.1f} s. It will sound about {softer_db:size} dB softer "
        "than it should. Divide it, or come with more hair in hand. " + _AT_EASE,
        "saved": "{what} ends {left_m:length} from the {end} and has to be saved on the way: {speed_m_s:speed} where "
        "you would take {preferred_m_s:pace}. " + _AT_EASE,
    },
    "speed-spike": {
        "weak": "this note has to give back in {lasts_s:.1f} s what the bow before took. It goes {times} times as fast "
        "and will stick out.",
        "light": "this note gives back in {lasts_s:.1f} s what the bow before took, {times} times as fast. Play it "
        "light and further out, as planned: by itself it would be {by_itself_db:.0f} dB louder.",
        "led": "the beat gets {times} times the speed of the note before it. Play it light, further out: "
        "by itself it would be {by_itself_db:.0f} dB louder.",
        "bulge": "the beat gets {times} times the speed of the note before it, at the same dynamic: it will bulge.",
    },
    "stuck": "{strokes:.0f} strokes are played in the last {within_m:length} at the {end}; they would lie "
    "{beyond_m:length} further in. Use a longer stroke before to get away, or a retake.",
    "retake-no-time": "the bow has to come back {way_m:length} and {missing_s:.1f} s are missing. Leave a gap before, "
    "or turn one of the bows.",
    "buried-note": "the short note comes {under_db:.0f} dB softer out of the long one and is lost behind it. Load the "
    "long one at its start and let it fade, leave a gap, or draw the short one quicker.",
    "fade-literal": "the printed fade goes over each long note and its short one; taken at its word, {pairs:.0f} short "
    "notes are lost behind. Load the long note and stop it, and play the short one quickly.",
    "repeat-seam": {
        "same bow": "the repeat ends on the bow it begins with. Take time to set the bow again, or turn one bow on the "
        "way.",
        "far": "the repeat ends {way_m:length} away from where it begins. Take time to set the bow again, or turn one "
        "bow on the way.",
    },
    "no-window": "at {speed_m_s:speed} and {contact_m:length.1} from the bridge no weight gives a clean tone. Go "
    "further from the bridge, or faster.",
    "airy": "too light for this place; the tone turns airy. It wants {least_n:weight} or more: less hair, or further "
    "from the bridge.",
    "pressed": "too heavy for this speed; the tone grates. More hair, or nearer the fingerboard.",
    "choked": "this start lies outside what the string takes; the note begins mute or hoarse. Set it with more "
    "weight, or gather speed more quickly.",
    "level-short": "about {short_db:size} dB softer than written; the bow cannot go closer or faster here.",
    "too-loud": "about {short_db:size} dB louder than written: it is much hair for the time, and "
    "no place further out takes it.",
    "off-zone": "{type:manner} is at home {off_m:length} nearer the {side}; where it is now the hand "
    "has to make up for it.",
    "heavy-hand": "{lasts_s:.0f} s of the minute around it ask for nearly all the moment of your hand. Play nearer the "
    "middle where you can, and rest before repeating it.",
    "speaks-late": "on the {string} string a note needs {speak_s:ms} ms to speak and this one lasts {sounds_s:ms}. "
    "Start it firmly, a little nearer the fingerboard.",
    "pressed-through": "{type:manner} lives from the release: {load_n:weight} rest before it and {weight_n:weight} "
    "stay on the note. Let half of it go within {let_go_s:ms} ms, or play it as another manner.",
    "join-heard": "the change after this bow is the most audible one: the tone dips for {dip_s:ms} ms. Slow the last "
    "{dip_s:2cm} to six tenths, take a quarter of the weight off, and near the frog tilt 10° more.",
    "mixed-run": "this run of long and short changes its way: {hooked:.0f} of {pairs:.0f} short notes hooked, "
    "{apart:.0f} with a bow of their own. It is easier, and more even, when it keeps one.",
    "returns-differ": "this returns from bar {as_bar}, and {strokes:.0f} of its bows go the other way here. Bow it as "
    "it was, unless you mean it to differ.",
    "keep-back-short": "you asked for {asked_m:length} of hair to be left here; {short_m:length} of it are used. "
    "Divide the stroke, bow less before it, or turn one bow.",
    "wood-contact": "the stick comes down on the string at this weight and tilt. Flatten the bow, or give more hair.",
    "hair-too-wide": "even {hair_m:mm} mm of hair are wide for {string_m:length} of string: the tone loses its edge. "
    "Tilt as far as you can.",
    "off-square-sensitive": "over a whole bow as close to the bridge as this, one degree of slant carries the contact "
    "{drift_m:mm} mm away. Watch it in a mirror once.",
    "shift-heard": "the hand shifts inside the slur in {time_s:ms} ms; it will be heard in the bow. Shift on an open "
    "string or a gap, or lighten for it.",
    "too-fast-for-type": {
        how: _TOO_FAST.replace("{why}", why).replace("{advice}", advice)
        for how, why, advice in (
            ("string, other", _LONGER, _OTHER),
            ("string", _LONGER, _SLOWER),
            ("manner, other", _UP_TO, _OTHER),
            ("manner", _UP_TO, _SLOWER),
        )
    },
    "rate-mismatch": {
        "too slow": "{rate:.1f} a second are too slow for {type:manner}; the bow only throws. Play spiccato.",
        "own": _BY_ITSELF.replace("{whose}", "yours runs at {own:.1f}"),
        "manner": _BY_ITSELF.replace("{whose}", "it runs by itself between {low:.0f} and {high:.0f}"),
        "thrown": "these notes want {rate:.1f} a second; throws of 3 to 15 mm land {low:.0f} to {high:.0f} times a "
        "second here. Throw it nearer the {side}, or take another tempo.",
    },
    "bounce-height": "the bow would fly {height_m:mm} mm high and comes back too late. Tilt more, which softens its "
    "spring, or play {off_m:length} nearer the {side}.",
    "bounce-place": {
        "led": "thrown notes as slow as these are led by the hand; the place for it lies {off_m:length} nearer the "
        "{side}.",
        "answers": "the bow answers {bow:.1f} times a second here and you want {rate:.1f}; the place for it lies "
        "{off_m:length} nearer the {side}.",
    },
    "uneven-accents": "accents on the {weak} come {weaker} dB weaker than the others. Play them nearer the middle, "
    "shorter, or with more moment of the hand.",
    "string-imbalance": "the {string} string comes out {off_db:size.1} dB {louder} than the rest asks for.",
    "crossing-fast": "from {from} to {to} the hand has to travel {travel_m:length} in {time_s:ms} ms. Play it nearer "
    "the frog, on one string, or slur it.",
    "crossing-hard": "{crossings:.0f} crossings from {from} to {to} and back go the hard way round. Begin on the other "
    "bow, or take one note on another string.",
    "skip-no-time": "from {from} to {to} the bow has {time_s:ms} ms to {manner} over {strings_between} between. Leave "
    "a gap before it, or play one note on another string.",
    "angle-carried": "from {from} to {to} the stick has to turn by {turn_rad:deg}°. Carried over as it was, the hair "
    "would slide {drift_m:length.1} towards the {aside}.",
    "voice-lost": {
        "airy": "the {voice} voice has too little weight to speak. Lean the level towards it, or let it lead.",
        "under": "the {voice} voice comes {under_db:size} dB under the other. Let it lead, or go to a place between.",
        "over": "the {voice} voice comes {under_db:size} dB over the one that should lead. Let it lead, or lean away.",
    },
    "chord-out-of-reach": "{chord} {unplayable}. {voicing}",
    "chord-hard": "{chord} asks for all the reach of a hand. {easier} lies at ease; {lost} would be lost.",
    "far-up": "this note lies {above:.0f} semitones up the {from} string, and the {to} string has it under the hand.",
    "jump": "the bow has {time_s:ms} ms to leave {from} and be on {to}; no string stays under it. Leave a gap, or "
    "take it slower.",
    "outside": {
        "note": "{pitch} lies {side} the {instrument}; it is left out and the bow passes it by. {elsewhere}",
        "chord": "{pitch} of this chord lies {side} the {instrument} and is left out. {elsewhere}",
    },
    "contrast-thin": "{this_passage} after {passage_before} differs by {level_db:size.1} dB and hardly in colour. "
    "Change level, colour or articulation of one.",
}
