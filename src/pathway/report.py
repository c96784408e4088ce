"""How plans, rigs and stroke types look on a terminal."""

from collections import Counter
from collections.abc import Mapping, Sequence
from typing import Any

from rich.console import Group, RenderableType
from rich.table import Table

from pathway.core.guide.descriptions import Description
from pathway.core.guide.drills import DRILL_WORDS
from pathway.core.planning import Plan
from pathway.core.planning.advice.symptoms import Cause
from pathway.core.practice.drill import Offer
from pathway.core.practice.making import opened
from pathway.core.practice.today import Entry
from pathway.core.rig import Rig
from pathway.core.rig.bow import Direction
from pathway.core.technique.crossings import Sense
from pathway.core.technique.stroke_types import STROKE_TYPES, StrokeType
from pathway.errors import NotHere
from pathway.formats.plan_document import PlanDocument

MARKS = {"high": "▼", "medium": "▽", "low": "·"}


def summary_of(document: PlanDocument) -> RenderableType:
    """Return a plan in a few lines: bows, hair, tempi, balance."""
    piece, totals = document.piece, document.totals
    table = Table(title=f"{piece.title} · {piece.part}", title_justify="left", show_header=False, box=None)
    table.add_row("rig", document.rig.instrument.name)
    table.add_row("tempo", _tempo(document))
    table.add_row("bows", _bows(document))
    links = {kind: sum(s.entry == kind for s in document.strokes) for kind in ("hook", "retake")}
    table.add_row("links", ", ".join(f"{count} {kind}s" for kind, count in links.items()))
    kinds: dict[str, int] = {}
    for stroke in document.strokes:
        kinds[stroke.type] = kinds.get(stroke.type, 0) + 1
    ordered = sorted(kinds.items(), key=lambda kind: -kind[1])
    table.add_row("types", ", ".join(f"{STROKE_TYPES[key].name} {count}" for key, count in ordered))
    table.add_row("hair", f"{totals.hair_m:.1f} m")
    if document.crossings:
        table.add_row("crossings", _crossings(document))
    if document.chords:
        forms = Counter(chord.form.value for chord in document.chords)
        table.add_row("chords", ", ".join(f"{count} {form}" for form, count in forms.items()))
    tight = [stroke for stroke in document.strokes if stroke.in_hand_s > 0]
    if tight:
        least = min(tight, key=lambda stroke: stroke.in_hand_s)
        table.add_row("in hand", f"at least {least.in_hand_s:.1f} s, {_bar_of(document, least.notes[0])}")
    for kind in ("direction", "string", "third", "passage", "voice"):
        groups = [g for g in totals.balance.groups if g.kind == kind]
        if groups:
            table.add_row(f"by {kind}", ", ".join(f"{g.name} {_signed(g.off_db)} dB" for g in groups))
    accents = [g for g in totals.balance.groups if g.kind == "direction" and g.attack_db is not None]
    if accents:
        table.add_row("accents", ", ".join(f"{g.name} {g.attack_db:.1f} dB" for g in accents))
    table.add_row("spread", f"{totals.balance.spread_db:.1f} dB")
    return table


def _crossings(document: PlanDocument) -> str:
    """Return how many crossings there are of each manner, and how many go the hard way round."""
    manners = Counter(crossing.how for crossing in document.crossings)
    told = ", ".join(f"{name} {count}" for name, count in manners.most_common())
    hard = sum(crossing.sense is Sense.HARD for crossing in document.crossings)
    return f"{told}; {hard} the hard way round" if hard else told


def _signed(value: float) -> str:
    text = f"{value:+.1f}"
    return "0.0" if float(text) == 0 else text.replace("-", "−")


def _tempo(document: PlanDocument) -> str:
    tempi = document.totals.tempi
    text = f"{document.piece.tempo_bpm:g} a minute; no bow too short from {document.totals.lowest_tempo_bpm:.0f}"
    if tempi is None:
        return text
    context = "" if tempi.in_context_bpm is None else f", in their order from {tempi.in_context_bpm:.0f}"
    return f"{text}{context}, comfortable from {tempi.comfortable_bpm:.0f}"


def _bows(document: PlanDocument) -> str:
    downs = sum(stroke.direction == "down" for stroke in document.strokes)
    down, up = (document.rig.word(direction).removesuffix("-bow") for direction in Direction)
    return f"{len(document.strokes)}: {downs} {down}, {len(document.strokes) - downs} {up}"


def _bar_of(document: PlanDocument, note: str) -> str:
    return next(f"bar {n.measure}" for n in document.notes if n.id == note)


def findings_of(document: PlanDocument) -> RenderableType:
    """Return what to look at, worst first, each with what helps."""
    if not document.findings:
        return "Nothing in the way."
    table = Table("", "what to look at", box=None, padding=(0, 1))
    for finding in document.findings:
        table.add_row(MARKS[finding.severity], finding.text)
        for fix in finding.fixes:
            table.add_row("", f"[dim]→ {fix.text}: {fix.effect}[/dim]")
    return table


def causes_of(causes: Sequence[Cause], place: str) -> RenderableType:
    """Return the causes of what is heard at a place, the likeliest first, each with its test and its help."""
    table = Table("at its limit", "cause", "try", "helps", title=place, title_justify="left", box=None, padding=(0, 1))
    for cause in causes:
        words = cause.words()
        table.add_row(f"{100 * (1 - cause.margin):.0f} %", words.text, words.test, ", ".join(words.help))
    return table


def drill_rows(plan: Plan, offers: Sequence[Offer]) -> list[dict[str, object]]:
    """Return drills with their rungs, those that can be bowed there."""
    rows: list[dict[str, object]] = []
    for offer in offers:
        try:
            ready = opened(offer.ask, plan.rig, plan)
        except NotHere:
            continue
        words = DRILL_WORDS[offer.ask.family]
        rungs = [
            {"name": one.rung.name, "notes_a_second": round(one.rate, 2), "tempo": round(one.beats_per_minute)}
            for one in ready.rungs
        ]
        rows.append(
            {
                "drill": offer.ask.key,
                "name": words.name,
                "on": offer.ask.stage.word,
                "aim": words.aim,
                "asked_by": offer.what or offer.why.value,
                "bars": list(offer.bars),
                "varies": ready.row.varies.value,
                "load": ready.row.load.value,
                "passes": words.passes.format(limit=f"{ready.row.passes.at(ready.rungs[-1].plan):.3g}"),
                "rungs": rungs,
            }
        )
    return rows


def drills_of(rows: Sequence[Mapping[str, Any]]) -> RenderableType:
    """Return drills as a table."""
    if not rows:
        return "Nothing asks for a drill."
    table = Table("drill", "on", "bars", "asked by", "rungs, notes a second", box=None, padding=(0, 1))
    for row in rows:
        rungs = " ".join(f"{rung['notes_a_second']:g}" for rung in row["rungs"])
        table.add_row(row["name"], row["on"], ", ".join(row["bars"]), row["asked_by"], rungs)
    return table


def day_rows(entries: Sequence[Entry], titles: Mapping[int, str]) -> list[dict[str, object]]:
    """Return a day's entries."""
    return [
        {
            "what": entry.place.value,
            "piece": titles.get(entry.piece, ""),
            "drill": entry.ask.key if entry.ask else None,
            "name": DRILL_WORDS[entry.ask.family].name if entry.ask else "Run-through",
            "asked_by": (entry.offer.what or entry.offer.why.value) if entry.offer else "",
            "minutes": round(entry.minutes, 1),
        }
        for entry in entries
    ]


def day_of(rows: Sequence[Mapping[str, Any]]) -> RenderableType:
    """Return a day as a table."""
    if not rows:
        return "The shelf is empty: there is nothing to be laid out."
    table = Table("min", "what", "drill", "piece", "asked by", box=None, padding=(0, 1))
    for row in rows:
        table.add_row(f"{row['minutes']:g}", row["what"], row["name"], row["piece"], row["asked_by"])
    return table


def rig_row(key: str, rig: Rig) -> dict[str, object]:
    """Return one rig for the table of rigs."""
    return {
        "key": key,
        "strings": " ".join(s.name for s in rig.instrument.strings),
        "bow_g": round(1000 * rig.bow.mass),
        "hair_cm": round(100 * rig.bow.hair, 1),
        "hold": rig.hold.name,
        "strong": rig.word(rig.strong),
        "most_torque_nm": rig.torque_limit,
    }


def stroke_row(kind: StrokeType) -> dict[str, object]:
    """Return one stroke type for the table of types."""
    return {
        "key": kind.key,
        "where": _where(kind),
        "hair": _hair(kind),
        "string": kind.contact.value,
        "start": kind.start.value,
        "gap": kind.gap,
        "most_per_s": None if kind.most_per_second is None else f"{kind.most_per_second:g}",
        "tilt_deg": kind.tilt_deg,
    }


def _where(kind: StrokeType) -> str:
    if kind.bounces:
        return "by its rebound"
    return "by level" if kind.zone is None else f"{kind.zone[0]:g}–{kind.zone[1]:g}"


def _hair(kind: StrokeType) -> str:
    if kind.whole_bow:
        return "whole bow"
    if kind.hair_a_note:
        return f"{100 * kind.hair_a_note[0]:g}–{100 * kind.hair_a_note[1]:g} cm a note"
    return f"{kind.breadth * kind.attack:g} × usual"


def stroke_page(kind: StrokeType, description: Description) -> RenderableType:
    """Return all about one stroke type."""
    table = Table(title=kind.name, title_justify="left", show_header=False, box=None)
    rows = {
        "sounds": description.sounds,
        "written": description.written,
        "place": f"{_where(kind)} of the hair" if kind.zone else _where(kind),
        "hair": _hair(kind),
        "fingers (hand school)": description.hand,
        "arm (arm school)": description.arm,
        "goes wrong": description.wrong,
        "faster": STROKE_TYPES[kind.faster].name if kind.faster else "–",
        "softer": STROKE_TYPES[kind.softer].name if kind.softer else "–",
    }
    for name, text in rows.items():
        table.add_row(name, text)
    return Group(table)
