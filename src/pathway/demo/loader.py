"""Puts the demo pieces on the shelf, once; what a player did with them stays."""

from dataclasses import dataclass
from datetime import datetime
from importlib.resources import files

from pathway.core.planning import Plan, plan_part
from pathway.core.planning.wishes import Wishes
from pathway.core.rig import preset
from pathway.demo.practice import load_log
from pathway.formats.score import ScoreFile, at_pitch
from pathway.formats.shorthand import compose
from pathway.formats.wishes_document import placed, read_wishes
from pathway.store import NewPiece, Pieces, Revision
from pathway.store.practice import PracticeLog
from pathway.store.summary import summary_of


@dataclass(frozen=True, slots=True)
class DemoPiece:
    """One piece written for the app."""

    key: str
    rig: str

    @property
    def wishes(self) -> Wishes:
        """Return the passages and locks that come with it."""
        file = files("pathway.demo") / "pieces" / f"{self.key}.json"
        return read_wishes(file.read_bytes()) if file.is_file() else Wishes()

    @property
    def document(self) -> bytes:
        """Return it as MusicXML."""
        return compose((files("pathway.demo") / "pieces" / f"{self.key}.txt").read_text("utf-8")).encode()


DEMO_PIECES = (
    DemoPiece("ferry-ledger", "bass"),
    DemoPiece("slack-water", "viola"),
    DemoPiece("lamp-in-the-window", "violin"),
    DemoPiece("stone-stairs", "cello"),
    DemoPiece("heron-step", "treble-viol"),
    DemoPiece("toll-house", "violin"),
    DemoPiece("low-ground", "early-cello"),
    DemoPiece("pebbles", "viola"),
)
PLAYED = {"toll-house", "slack-water", "stone-stairs"}  # of which there are takes


def load_demo(pieces: Pieces, log: PracticeLog | None = None) -> dict[str, int]:
    """Add the demo pieces that are not on the shelf yet, with what was practised of them; return their ids by key."""
    plans: dict[str, tuple[int, Plan]] = {}
    there = pieces.demo_keys()
    missing = [demo for demo in DEMO_PIECES if demo.key not in there]
    for demo in missing:
        name = f"{demo.key}.musicxml"
        source = demo.document
        score = ScoreFile(source, name)
        found = score.part()
        rig = preset(demo.rig)
        part = at_pitch(found.part, rig)
        wishes = placed(demo.wishes, part)
        plan = plan_part(part, rig, wishes.settings, wishes.locks)
        first = Revision("As first planned", wishes.settings, wishes.locks, plan.path, summary_of(plan))
        new = NewPiece(score.title, found.part.name, name, source, found.mei, demo.rig, demo.key)
        plans[demo.key] = pieces.add(new, first), plan
    if plans and log is not None:
        load_log(log, plans, datetime.now().astimezone())
    return {key: id_ for key, (id_, _) in plans.items()}
