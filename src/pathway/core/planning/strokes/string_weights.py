"""What speaks for one string or another, every number once. Costs have no unit; only their proportion decides."""

from pathway.core.planning.weights import Weight

_TRIED = "tried out on sixty figures and on real parts"

SHIFT = Weight(0.4, "cost", "The hand shifts no more than it must.", _TRIED)
SHIFT_SEMITONE = Weight(0.05, "cost a semitone", "A far shift costs more than a near one.", _TRIED)
EASY_SHIFT = Weight(0.7, "times the shift", "Across a rest, a gap or an open string the hand moves at ease.", _TRIED)
LONG_GAP = Weight(0.15, "s", "A silence as long as this is such a gap.")
HEARD_SHIFT = Weight(2.5, "times the shift", "Inside a slur, after a quick note, a shift is heard.", _TRIED)
PAIR_SHIFT = Weight(1.5, "times the shift", "Two fingers that shift together weigh more.")
QUICK = Weight(0.12, "s", "A note shorter than this is too quick to hide a shift.")
CROSSING = Weight(0.075, "cost", "Going to the neighbouring string costs a little.", _TRIED)
FURTHER = Weight(0.06, "cost a string", "Each string more costs a little more; leaps cross all the same.", _TRIED)
OVER_IN_SLUR = Weight(0.1, "cost a string", "Inside a slur the bow passes over no string that it can avoid.", _TRIED)
IN_SLUR = Weight(0.015, "cost", "Inside a slur a crossing costs more.", _TRIED)
IN_STEP = Weight(0.08, "cost", "Quick or slurred neighbour notes stay on one string.", _TRIED)
STEP = Weight(2, "semitones", "Notes no further apart than this are neighbours.")
QUICK_STEP = Weight(0.18, "s", "Separate neighbour notes shorter than this are quick.")
SUNG = Weight(1.7, "cost", "A slurred line of long notes keeps one string up to a sixth.", _TRIED)
SUNG_FROM = Weight(0.8, "s", "Notes as long as this are such a line.")
SUNG_SHIFT = Weight(0.5, "times the shift", "In such a line a shift is welcome.", _TRIED)
HEIGHT = Weight(0.05, "cost a semitone", "A hand above first position costs more the higher it lies.", _TRIED)
THICK = Weight(0.04, "cost a semitone", "High up, all strings but the top one are dull.", _TRIED)
THICK_FROM = Weight(7, "semitones", "Above this a thicker string is high up.")
REACH = Weight(0.012, "cost a semitone", "Of two like places the lower one is taken.", _TRIED)
STOPPED = Weight(0.14, "cost", "A pitch that an open string has is played open, unless it sings.", _TRIED)
OPEN_SINGING = Weight(0.2, "cost", "In a long slurred note an open string's voice stands out.", _TRIED)
OPEN_SHAKEN = Weight(0.8, "cost", "A note that shall have vibrato is stopped.")
SINGING_FROM = Weight(0.5, "s", "Notes of a slur as long as this sing.")
UNREACHED = Weight(5.0, "cost", "A head out of the hand's reach: only where nothing else is left.")
LEFT_OUT = Weight(50.0, "cost", "A head of a chord that fits on no string: the rest is played.")
AGAINST_WISH = Weight(2.0, "cost", "The string that words or a passage ask for is kept where it can be.", _TRIED)
