"""A part as it is printed: its title, what it is played on, its pages; the same for page, PDF and command line."""

from dataclasses import dataclass

from pathway.core.guide.speech import Speech
from pathway.core.planning.finding import Finding
from pathway.core.planning.plan import Plan
from pathway.formats.staves import System
from pathway.web.paper.pdf import ink_alone, part_pdf
from pathway.web.paper.sheet import Page, PaperLine, Wish, lines_of, one_sheet, pages_of


@dataclass(frozen=True)
class Printed:
    """A part on paper."""

    title: str
    about: str
    lines: tuple[PaperLine, ...]
    wish: Wish
    unit: str

    @property
    def pages(self) -> list[Page]:
        """Return the pages."""
        return pages_of(self.lines, self.wish)

    @property
    def svg(self) -> str:
        """Return all of it as one picture."""
        return one_sheet(self.lines, ink_alone())

    @classmethod
    def of(
        cls, plan: Plan, systems: tuple[System, ...], findings: list[Finding], wish: Wish, say: Speech, title: str = ""
    ) -> "Printed":
        """Return a plan on paper; its lines have to be as wide as wished for."""
        lines = lines_of(plan, systems, findings, wish, say)
        beat = plan.draft.tempo_bpm
        rig = plan.rig
        names = dict.fromkeys((rig.instrument.name, rig.bow.name))
        played_on = ", ".join(name for name in names if name.casefold() != plan.part.name.casefold())
        about = " · ".join(filter(None, (plan.part.name, f"{beat:.0f} beats a minute", played_on)))
        unit = say.length(0.1).unit
        return cls(title or plan.part.title or "Untitled", about, tuple(lines), wish, unit)

    @property
    def pdf(self) -> bytes:
        """Return it as PDF.

        Raises:
            ScoreError: the typesetter is not installed.
        """
        return part_pdf(self.title, self.about, self.pages, self.wish, self.unit)
