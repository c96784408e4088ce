"""Every weight of the path decides something by itself: a bar that is bowed otherwise when it is taken out."""

from dataclasses import dataclass

import pytest

from pathway.core.planning import Settings
from pathway.core.planning.draft import Draft
from pathway.core.planning.path import company, cost_loop, costs, grid, rows, search, weights
from pathway.core.planning.path.problem import Path
from pathway.core.planning.path.search import best_path
from pathway.core.planning.weights import Weight
from pathway.core.planning.wishes import Link, Passage, Style
from pathway.core.rig import preset
from tests.helpers import HEADS, part_of

ROOMS = (company, cost_loop, costs, grid, rows, search)
BETWEEN = {Link.FIRST: "", Link.CHANGE: "", Link.HOOK: "-", Link.RETAKE: ","}


@dataclass(frozen=True)
class Case:
    """Some bars, how they are bowed, and how without the weight: n down, v up, - hooked, a comma where lifted."""

    text: str
    bowed: str
    otherwise: str
    meter: str = "4/4"
    rig: str = "violin"
    tempo: float = 50
    style: Style = Style.MODERN
    out: float = 0.0  # what takes the weight out
    keep_back: float | None = None  # hair asked to be left at the end [m]

    def bows(self) -> str:
        """Return how the bars are bowed."""
        part = part_of(self.text, self.rig if self.rig in HEADS else "violin", meter=self.meter)
        passage = Passage(part.events[0].id, part.events[-1].id, keep_back=self.keep_back)
        draft = Draft.of(part, preset(self.rig), Settings(self.tempo, self.style, passages=(passage,)))
        return _told(best_path(draft.problem, draft.company))


def _told(path: Path) -> str:
    pairs = zip(path.directions, path.links, strict=True)
    return "".join(BETWEEN[Link(link)] + ("n" if way > 0 else "v") for way, link in pairs)


CASES = {
    "SPEED": Case("[p] e4:2 e5:2>", "nv", "n,n", rig="early-violin", tempo=150),
    "LIMITS": Case("[f] d5:2d> | d5:2d>", "nv", "n,n", "3/4", "early-violin"),
    "ZONE": Case("[f] d5:8> a4:16 c5:2d", "v-vn", "n-nv", rig="cello"),
    "ZONE_UNIT": Case("[p] e4:2 e5:2>", "nv", "n,n", rig="early-violin", tempo=150, out=0.2),
    "HOME": Case("[p] e4:2 e5:2>", "nv", "n,n", rig="early-violin", tempo=150),
    "START": Case("[f] g4:2 g3+d4+b4:4", "nv", "n-n", "6/8", tempo=90),
    "KEEP": Case("[mf] e5:2d d5:4>", "nv", "n-n", tempo=90, keep_back=0.25),
    "KEEP_UNIT": Case("[mf] e5:2d d5:4>", "nv", "n-n", tempo=90, keep_back=0.25, out=0.2),
    "EVEN": Case("[f] f4:2> e4:16 d4:4d d5:16.", "n-nvn", "nvnv", rig="cello"),
    "EVEN_WEAK": Case("[f] d5:8> a4:16 c5:2d", "v-vn", "nvn", rig="cello"),
    "ONE_BOW": Case("[mf] (d4:16. e4. f4. g4.) a4:4 r:2 | (d4:16. e4. f4. g4.) a4:2", "vnvn", "nvnv", tempo=90),
    "EVEN_MEMORY": Case("[f] [>] e4:2. r:8d g4:16 | e4:2. r:8d g4:16", "nvnv", "nvn,v", "3/4", "cello", 70, out=9.0),
    "SLOWING_RATIO": Case("[f] g3+d4+b4:16 e5:2. e4:8d", "nvn", "n-nv", "6/8", out=50.0),
    "BAR_START": Case("[mf] d4:1> | d4:1>", "n,n", "nv"),
    "ACCENT": Case("[mf] d4:1> | d4:1>", "n,n", "nv"),
    "CHORD": Case("[p] r:4 g3+d4+b4:2 g4:4", "nv", "vn", tempo=120),
    "PHRASE_START": Case("[mf] |: e4:2d> b4:4> | r:2 c5:2 :|", "v-v,v", "v-vn", rig="bass-viol"),
    "FIRST_STROKE": Case("[p] f4:1 | f4:1", "nv", "vn", rig="cello", tempo=120),
    "UPBEAT": Case("[p] r:2 d4:4>", "v", "n", "6/8", tempo=90),
    "UPBEAT_AFTER_REST": Case("[p] r:2 f4:4", "v", "n", "3/4", tempo=70),
    "WEAK_ENTRY": Case("[f] r:8 d5:4 f4:8. e4:4>", "vnv", "nvn", "6/8", "cello", 70),
    "GROWTH": Case("[p] [<] g4:1. [*] | (g4:2 b4:2)", "vn", "nv", rig="cello", tempo=120),
    "GROWTH_FROM": Case("[p] [<] g4:1. [*] | (g4:2 b4:2)", "vn", "nv", rig="cello", tempo=120, out=9.0),
    "HARD_WAY": Case("[p] e4:2> d4:16 c5:8d", "n-nv", "nvn", "6/8", tempo=70),
    "EARLY_STRENGTH": Case("[f] d4:1 | d4:1", "n,n", "nv", tempo=150, style=Style.EARLY, out=1.0),
    "EARLY_WEAK": Case("[mf] d5:4 d4:8> r:4d", "nv", "n-n", "6/8", tempo=90, style=Style.EARLY),
    "EARLY_EVENNESS": Case(
        "[f] [>] d4:2d g3+d4+b4:8d g3+d4+b4:16", "nvn", "nv-v", rig="cello", tempo=70, style=Style.EARLY, out=1.0
    ),
    "HOOK": Case("[f] f4:2 d5:2.", "nv", "n-n", rig="early-violin", tempo=90),
    "HOOK_BASE": Case("[p] b4:2d. f4:8 r:8", "nv", "n-n"),
    "HOOK_PAIR": Case("[p] d5:2 g4:8d e5:16", "n-nv", "nvn", "3/4", tempo=120, out=1.0),
    "HOOK_SHORT": Case("[p] a4:2d | d5:2d.", "n-n", "nv", "3/4", "cello", out=1.0),
    "HOOK_LONG": Case("[f] c5:8. c5:2d d4:8> | b4:4d e5:2 d4:8.", "nv-vnvn", "nvn-nvn", rig="cello", tempo=70, out=1.0),
    "LONG_SHORT": Case("[p] d5:2 g4:8d e5:16", "n-nv", "nvn", "3/4", tempo=120, out=5.0),
    "SHORT_NOTE": Case("[p] d4:16 a4:8> f4:2d g3+d4+b4:16", "n-nvn", "vnvn", rig="early-violin", tempo=90, out=0.01),
    "LONG_STROKE": Case("[f] c5:16 e5:2d a4:8d. | d4:2 e5:2>", "nv-vnv", "nvn-nv", rig="cello", out=9.0),
    "ROLL": Case("[f] d4:4d g3+d4+b4:16 r:4 d4:16", "vn,n", "vn-n", "6/8", "bass-viol"),
    "RETAKE": Case("[f] f4:2 d5:2.", "nv", "n,n", rig="early-violin", tempo=90),
    "RETAKE_BASE": Case("[p] e4:2 e5:2>", "nv", "n,n", rig="early-violin", tempo=150),
    "RETAKE_STRONG": Case("[mf] d4:1> | d4:1>", "n,n", "nv", out=1.0),
    "RETAKE_PER_METRE": Case("[p] r:4d e5:4d | r:4d e5:4d", "n-n", "n,n", "6/8"),
    "LIFT_IN_LEGATO": Case(
        "[p] [<] |: (f4:4d d5:4d) g3+d4+b4:8d g3+d4+b4:16 :|", "nv-v", "v,v-v", rig="bass-viol", tempo=70
    ),
    "LINK_MEMORY": Case("[mf] d4:2 r:4 | e5:2d", "n,n", "vn", "6/8", "early-violin", 70, out=9.0),
    "GIVING": Case("[p] e4:2 e5:2>", "nv", "n,n", rig="early-violin", tempo=150),
    "NO_TIME": Case("[f] d5:2d> | d5:2d>", "nv", "n,n", "3/4", "early-violin"),
    "UNLIKE": Case("[p] a4:2 a4:4d e4:8 | b4:2 c5:4d d4:8", "nv-vnv-v", "nv-vnvn", tempo=120),
    "UNLIKE_PHRASE": Case("[mf] d5:1. | b4:2. c5:2 | d5:1. | b4:2. c5:2", "nvn,nvn", "nvnv-vn", rig="cello"),
    "UNLIKE_BAR": Case(
        "[f] b4:4d d4:4 e5:8d d4:16. d5:8 | e5:2d e4:16 e5:8d. | b4:4d d4:4 e5:8d d4:16. d5:8",
        "nvnvnvnvnvnvn",
        "nvnvnvnvnvn-nv",
    ),
    "ROW_EVEN": Case(
        "[mf] " + " | ".join(["e4:4. a4:2d"] * 5), "nv-vn-nv-vn-nv", "nvnvnvnvnv", rig="early-violin", tempo=90
    ),
    "ROW_LEFT": Case("[p] " + " | ".join(["e4:4. d5:2d"] * 5), "nvnvnvnvnv", "nvnvnv,nvnv", rig="cello", tempo=70),
    "MIXED": Case(
        "[f] e5:4d e5:8 d4:4d> d4:8 | d4:4d e5:8 c5:4d a4:8 d5:4d a4:8 d5:4d e5:8",
        "n-nv-vn-nv-vn-nv-v",
        "nvnvn-nvnv-vnv",
        tempo=120,
    ),
    "SEAM": Case("[p] |: e4:4d. d4:8> d5:8d d5:8 r:8d :|", "nvnv", "n-nvn", rig="cello", tempo=120),
}


@pytest.mark.parametrize("name", CASES)
def test_a_weight_decides(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """With it one way, without it another."""
    case = CASES[name]
    assert case.bows() == case.bowed
    for room in ROOMS:
        if hasattr(room, name):
            monkeypatch.setattr(room, name, case.out)
    assert case.bows() == case.otherwise


def test_no_weight_is_left_out() -> None:
    """Those that are not here stand in the test that is named."""
    elsewhere = {
        "FORGET": "test_costs.test_evenness_forgets_over_a_rest",
        "TURNED": "test_costs.test_inertia_costs_every_turn_but_nothing_that_stays",
        "WORTH_TURNING": "test_search.test_many_edits_end_where_a_new_search_ends",
    }
    assert {
        name for name, value in vars(weights).items() if isinstance(value, Weight)
    } == CASES.keys() | elsewhere.keys()
