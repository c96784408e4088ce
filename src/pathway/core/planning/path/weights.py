"""What makes a hair path good or bad, every number once: ``problem.py`` adds the costs up, ``costs.py`` hands them out.

Costs have no unit; only their proportion decides.
"""

from pathway.core.planning.weights import Weight

_TRIED = "tried out on 17,000 notes of real parts"
_MARKS = "tried out on editors' printed bow marks"

# along the hair
SPEED = Weight(1.0, "cost for (ln v/v_pref)²", "A stroke goes at the speed that habit gives it.", "the measure of all")
LIMITS = Weight(20.0, "cost for (ln excess)²", "It leaves the speeds that carry its level only in need.", _TRIED)
ZONE = Weight(0.12, "cost for (10 cm beyond)²", "It lies in the part of the bow where its manner is at home.", _TRIED)
ZONE_UNIT = Weight(0.10, "m", "What is off its place on the hair is counted in squares of this.")
HOME = Weight(0.015, "cost for (10 cm off)²", "Between like places the middle of that part is taken.")
START = Weight(0.5, "cost for (10 cm off)²", "A chord begins where it can be set.", _TRIED)
KEEP = Weight(0.5, "cost for (5 cm short)²", "Hair that is asked to be kept is kept.", _TRIED)
KEEP_UNIT = Weight(0.05, "m", "Hair that is not kept is counted in squares of this.")
EVEN = Weight(0.8, "cost for e²", "A stroke is as fast as its level asks, against the one before it.", _TRIED)
EVEN_WEAK = Weight(1.8, "cost for e²", "A weak note does not rush.", _TRIED)
SLOWING_RATIO = Weight(1.1, "in ln T-ratio", "After a much shorter stroke slowing down is free.", _TRIED)
EVEN_MEMORY = Weight(0.15, "s", "Over a rest the speed before is forgotten.")
FORGET = Weight(0.05, "share", "Less memory than this is none.")

# directions
BAR_START = Weight(0.4, "cost", "A bar begins on the strong bow.", _TRIED)
ACCENT = Weight(0.8, "cost", "An accent takes the strong bow.", _TRIED)
CHORD = Weight(1.0, "cost", "A chord takes the strong bow.", _TRIED)
PHRASE_START = Weight(0.6, "cost", "A phrase begins on the strong bow.", _TRIED)
FIRST_STROKE = Weight(0.2, "cost", "So does the first stroke of the piece.", _MARKS)
UPBEAT = Weight(0.15, "cost", "What leads into a bar takes the weak bow.", _TRIED)
UPBEAT_AFTER_REST = Weight(0.9, "cost", "All the more after a rest.", _TRIED)
WEAK_ENTRY = Weight(0.7, "cost", "A weak entry after a rest takes the weak bow.", _MARKS)
ONE_BOW = Weight(2.0, "cost", "A staccato in one bow goes to the weak side, where it is at home.")
GROWTH = Weight(0.25, "cost", "Growing strokes go to the frog, fading ones to the tip.", _TRIED)
GROWTH_FROM = Weight(0.6, "s", "Strokes longer than this have the time for it.")
HARD_WAY = Weight(0.1, "cost", "Quick crossings go the easy way round.", _MARKS)
EARLY_STRENGTH = Weight(3.0, "times the strength", "In the early style beats weigh thrice.")
EARLY_WEAK = Weight(0.6, "cost", "In the early style weak beats take the weak bow.")
EARLY_EVENNESS = Weight(0.5, "times the evenness", "In the early style strokes need not be even.")
TURNED = Weight(0.10, "cost", "An edit turns no other bow without need.")
WORTH_TURNING = Weight(0.003, "share of the cost", "More than this to be gained is need.")

# from stroke to stroke
HOOK = Weight(1.6, "cost", "Going on in the same direction wants a reason.", _TRIED)
HOOK_BASE = Weight(0.08, "cost", "Even after a rest it does.")
HOOK_PAIR = Weight(0.05, "times the hook", "The short note after a long one is hooked easily.", _MARKS)
HOOK_SHORT = Weight(0.6, "times the hook", "So are weak short notes and stopped ones, less easily.", _TRIED)
HOOK_LONG = Weight(1.4, "times the hook", "Slurs of three and long strokes are not.", _TRIED)
LONG_SHORT = Weight(1.9, "in T-ratio", "A note this much longer than the next makes a pair with it.")
SHORT_NOTE = Weight(0.45, "s", "A note shorter than this is short.")
LONG_STROKE = Weight(0.9, "s", "A stroke longer than this is long.")
ROLL = Weight(0.15, "cost a string", "Rolling over silent strings costs a little.")
RETAKE = Weight(2.4, "cost", "Lifting and setting the bow wants a reason.", _TRIED)
RETAKE_BASE = Weight(0.12, "cost", "Even in a rest it does.")
RETAKE_STRONG = Weight(0.6, "times the retake", "An accent or a chord is one.", _TRIED)
RETAKE_PER_METRE = Weight(0.3, "cost a metre", "A far way through the air costs more.", _TRIED)
LIFT_IN_LEGATO = Weight(1.2, "cost", "Between slurs without a rest the bow stays on.", _TRIED)
LINK_MEMORY = Weight(0.2, "s", "In a rest hooks and retakes become free.", _MARKS)
GIVING = Weight(0.8, "cost for the share", "What a retake takes from the note before is missed there.", _TRIED)
NO_TIME = Weight(40.0, "cost for the share", "More than it can give is taken only where nothing else is left.")

# in company, once there is a path to look at
UNLIKE = Weight(0.25, "cost a stroke", "Like bars are bowed alike.", _TRIED)
UNLIKE_PHRASE = Weight(0.4, "cost a stroke", "A phrase that returns is bowed as before.", _TRIED)
UNLIKE_BAR = Weight(2.5, "cost a stroke", "A bar that returns note by note is bowed as most often.")
ROW_EVEN = Weight(0.3, "cost for e²", "In a row the short way back is quick and light.")
ROW_LEFT = Weight(6.0, "cost a stroke", "A bar of a row is bowed as the others.")
MIXED = Weight(2.0, "cost a pair", "A run of long and short keeps one way, hooked or separate.", _TRIED)
SEAM = Weight(0.5, "cost", "A repeat comes round to its own beginning.", _TRIED)
