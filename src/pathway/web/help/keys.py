"""The keys, as a player is told of them; a test holds them to what the page's scripts listen to."""

from dataclasses import dataclass

_SIGNS = {
    "←": "ArrowLeft",
    "→": "ArrowRight",
    "↑": "ArrowUp",
    "↓": "ArrowDown",
    "Space": " ",
    "Esc": "Escape",
    "Page ↑ ↓": "PageDown",
}


@dataclass(frozen=True, slots=True)
class Keys:
    """Some keys and what they do."""

    shown: tuple[str, ...]
    does: str
    also: tuple[str, ...] = ()  # further ones, as a browser tells them: with Shift, or not worth a line
    through: bool = False  # the two that are shown and all between them

    @property
    def pressed(self) -> frozenset[str]:
        """Return the names by which a browser tells them."""
        between = map(str, range(int(self.shown[0]), int(self.shown[1]) + 1)) if self.through else self.shown
        plain = (key.removeprefix("Shift+") for key in between if not key.startswith("Ctrl+"))
        return frozenset(_SIGNS.get(key, key) for key in (*plain, *self.also))


ON_THE_SHEET = (
    Keys(("←", "→"), "one note back or on; with Shift select more of them"),
    Keys(("↑", "↓"), "the line above or below"),
    Keys(("Home", "End"), "first or last note"),
    Keys(("d",), "this stroke down-bow, and keep it so"),
    Keys(("u",), "this stroke up-bow, and keep it so"),
    Keys(("h",), "hook: go on in the same direction"),
    Keys(("r",), "retake: lift and set again"),
    Keys(("s",), "split the slur here"),
    Keys(("j",), "join with the next stroke"),
    Keys(("[", "]"), "stroke end 1 cm back or on; with Shift 5", also=("{", "}")),
    Keys(("1", "6"), "lane, from the fingerboard to the bridge", through=True),
    Keys(("-", "="), "less or more weight"),
    Keys(("t",), "more tilt; with Shift less", also=("T",)),
    Keys(("k",), "choose the stroke type"),
    Keys(("g",), "choose the finger"),
    Keys(("o",), "try other positions for the selected notes"),
    Keys(("v",), "choose the lead of a double stop"),
    Keys(("l",), "keep this bow as it is; where something is set, leave all of it to the plan again"),
    Keys(("z", "Ctrl+Z"), "undo"),
    Keys(("Shift+Z", "Ctrl+Y"), "redo"),
    Keys(("Space",), "play; over a selection it loops"),
    Keys(("p",), "hear the bar"),
    Keys(("/",), "go to a bar"),
    Keys(("Esc",), "stop, put away"),
    Keys(("a",), "plan the rest anew: see first what it would change; what you have set stays set"),
    Keys((".", ","), "next or previous finding"),
    Keys(("f",), "take the first help for this note"),
    Keys(("w",), "work at it: the first drill for this note; over a selection, the drills for those notes"),
    Keys(("?",), "these keys"),
)
AT_A_DRILL = (
    Keys(
        ("Space", "Page ↑ ↓"),
        "the next try: a bar is counted in; again to stop. Pedals send the page keys",
        also=("PageUp", "Enter"),
    ),
    Keys(("1", "2", "3"), "clean, nearly, not yet; after a set: easy, firm, strained"),
    Keys(("↑", "↓"), "a rung up or down"),
    Keys(("h",), "hear the rung; f hears the fault", also=("f",)),
    Keys(("c",), "click on every bar, on every second one, off"),
    Keys(
        ("m",),
        "listen: the microphone says what a try was like, where that can be heard; you confirm it with 1, 2 or 3",
    ),
    Keys(("n",), "the drill that comes next, or the one beside it"),
    Keys(("Esc",), "stop"),
)
