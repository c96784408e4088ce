"""Drills on the desk: made from what is open, engraved, heard, played and kept in the log."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta

from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.plan import Plan
from pathway.core.practice import key_of
from pathway.core.practice.drill import AskedBy, DrillAsk, Offer, Stage
from pathway.core.practice.ladder import typical
from pathway.core.practice.load import Allowance, Bout, HandAfter, allowance
from pathway.core.practice.log import PlayedSet, with_try
from pathway.core.practice.making import Opened, ask_in, opened, whole_ask
from pathway.core.practice.offers import MOST_OFFERS, drills_for, drills_for_passage, drills_for_symptom, offers_of
from pathway.core.practice.staircase import Climb, Verdict
from pathway.core.practice.today import Candidate, Entry, Session, day_plan, due, moved
from pathway.core.sound import playable
from pathway.core.sound.otherwise import with_symptom
from pathway.core.takes import listen
from pathway.core.takes.judging import Judged, judged
from pathway.desk.desk import Desk
from pathway.desk.hearing import Clip, Hearing
from pathway.desk.kept import Kept
from pathway.desk.open_piece import OpenPiece
from pathway.desk.stored import drawn, engraved_alone
from pathway.formats.part_writer import Written, write_part
from pathway.formats.recording import from_pcm
from pathway.formats.staves import System
from pathway.store import KnownRig
from pathway.store.practice import Day, PracticeLog

PIECES = 4  # that a day is made from, the last opened first
_LOOKED_AT = timedelta(days=30)  # of the log, for the load
_KEPT = 40  # drills and their lines at hand
IN_THE_BARS = 8  # notes of a run-through's bars


@dataclass(frozen=True)
class OpenDrill:
    """A drill with the rig and the piece that it is for."""

    ask: DrillAsk
    ready: Opened
    rig: KnownRig
    now: OpenPiece | None  # its piece
    title: str = ""

    @property
    def piece(self) -> int | None:
        """Return the id of its piece."""
        return self.now.piece.id if self.now else None


@dataclass(frozen=True)
class Told:
    """What asks for a drill, as the page was told."""

    why: AskedBy = AskedBy.PLAYER
    what: str = ""
    bars: tuple[str, ...] = ()


@dataclass(frozen=True)
class Try:
    """One try of a set, as the page sends it: sent again it counts once."""

    token: str  # of the set
    number: int  # from 1
    verdict: Verdict
    seconds: float  # played in the set so far
    begun: datetime


class Practising:
    """Makes drills, keeps how they went, and lays out the day."""

    def __init__(self, desk: Desk, hearing: Hearing, log: PracticeLog) -> None:
        self._desk, self._hearing, self.log = desk, hearing, log
        self._drills: Kept[OpenDrill] = Kept(_KEPT)
        self._lines: Kept[tuple[System, ...]] = Kept(_KEPT)
        self._offers: Kept[list[Offer]] = Kept(_KEPT)
        self._laid: dict[tuple[date, int | None], list[Entry]] = {}

    def drill(self, piece: int | None, key: str, rig_key: str) -> OpenDrill:
        """Return a drill ready to be played.

        Args:
            piece: that it belongs to; None for none.
            key: which drill.
            rig_key: what it is played on, where there is no piece.

        Raises:
            NotFound: no such piece or drill, or it makes no sense here.
        """
        ask = whole_ask(key)
        now = self._desk.open(piece) if piece is not None else None
        rig = self._desk.rigs.find(now.piece.rig if now else rig_key)
        state = (piece, now.piece.version if now else 0, rig.key, rig.version, ask.key)

        def made() -> OpenDrill:
            own = now.plan.rig if now else rig.rig
            return OpenDrill(ask, opened(ask, own, now.plan if now else None), rig, now, now.piece.title if now else "")

        return self._drills.get_or_make(state, made)

    def lines(self, drill: OpenDrill, rung: int, width: int) -> tuple[System, ...]:
        """Return the engraved lines of a rung, so wide [CSS px]."""
        work = drill.ready.at(rung).rung.work
        if work.bars is not None and drill.now is not None:
            state = (drill.piece, "bars", work.bars, width)
            mei, bars = drill.now.piece.mei, work.bars
            return self._lines.get_or_make(state, lambda: engraved_alone(mei, width, bars))
        score = self.score(drill, rung)
        return self._lines.get_or_make((score.data, width), lambda: drawn(score, width))

    def score(self, drill: OpenDrill, rung: int) -> Written:
        """Return a rung as MusicXML."""
        one = drill.ready.at(rung)
        key = key_of(drill.now.plan.part) if drill.now else 0
        return write_part(one.plan.part, drill.rig.rig.instrument, key, one.rung.work.quarters_per_minute)

    def clip(self, drill: OpenDrill, rung: int, *, fault: bool = False) -> Clip:
        """Return a rung as the model sounds it; with its fault where it has one and that is asked for."""
        one = drill.ready.at(rung)
        state = (drill.piece, drill.now.piece.version if drill.now else drill.rig.version, drill.ask.key, rung, fault)

        def played() -> Plan:
            if fault and one.rung.fault is not None:
                return with_symptom(one.plan, typical(one.plan).id, one.rung.fault)
            return one.plan

        return self._hearing.whole(state, lambda: playable(played()))

    def second(self, drill: OpenDrill, rung: int) -> Clip | None:
        """Return the second part of the rung's bars, at its tempo; None where the score has no other part."""
        one, now = drill.ready.at(rung), drill.now
        if now is None or drill.ready.bars is None:
            return None
        others = self._hearing.others(now.piece.id)
        if not others:
            return None
        begin = now.plan.note[one.plan.notes[0].id].onset
        end = now.plan.note[one.plan.notes[-1].id].onset + 1e-3
        slower = one.beats_per_minute / now.plan.draft.tempo_bpm
        return self._hearing.second_at(now.piece.id, others[0].number, (begin - 1e-4, end), slower)

    def judged(self, drill: OpenDrill, rung: int, pcm: bytes, rate: int) -> Judged | None:
        """Return what a recording of a try says of it; None where that cannot be known.

        Args:
            drill: that was played.
            rung: of it.
            pcm: 16 bits, one channel.
            rate: samples a second.

        Raises:
            NoTake: nothing of the rung is in it.
            OutOfRange: too short or too long.
        """
        one = drill.ready.at(rung)
        passes = drill.ready.row.passes
        heard = listen(playable(one.plan), from_pcm(pcm), rate)
        return judged(heard, passes.quantity, passes.at(one.plan), passes.unit)

    def tried(self, drill: OpenDrill, told: Told, sent: Try) -> tuple[Climb, PlayedSet]:
        """Keep a try, and return where it leads; a try that was kept already changes nothing."""
        climb = self.climb(drill)
        known = self.log.find(sent.token)
        tries = known.tries if known else ()
        if sent.number <= len(tries):
            assert known is not None
            return climb, known
        begun = known or PlayedSet(
            token=sent.token,
            drill=drill.ask.key,
            begun=sent.begun,
            piece=drill.piece,
            title=drill.title,
            why=told.why.value,
            what=told.what,
            bars=", ".join(told.bars) or self.bars_told(drill),
        )
        led, played = with_try(begun, drill.ready, climb, sent.verdict, sent.seconds)
        self.log.stand(drill.piece, drill.ask.key, led)
        return led, self.log.keep(played)

    def climb(self, drill: OpenDrill) -> Climb:
        """Return where the player stands on a drill; never above its ladder."""
        found = self.log.climb(drill.piece, drill.ask.key)
        return replace(found, rung=min(found.rung, drill.ready.top))

    def step_to(self, drill: OpenDrill, rung: int) -> Climb:
        """Go to a rung by hand."""
        climb = Climb(min(max(rung, 0), drill.ready.top))
        self.log.stand(drill.piece, drill.ask.key, climb)
        return climb

    def ended(self, token: str, seconds: float, hand: HandAfter | None, note: str) -> None:
        """Keep how a set ended; a set without a try is none."""
        known = self.log.find(token)
        if known is not None:
            more = max(seconds, known.seconds)
            self.log.keep(replace(known, seconds=more, hand=hand or known.hand, note=note or known.note))

    def due(self, piece: int) -> int:
        """Return how many drills of a piece were begun and are due today."""
        today = date.today()
        sessions = self.log.sessions(piece).values()
        return sum(1 for one in sessions if one and (when := due(one)) is not None and when <= today)

    @staticmethod
    def bars_told(drill: OpenDrill) -> str:
        """Return the bars of the piece that a drill is for, by their numbers."""
        place = drill.ready.place
        if drill.now is None or place is None:
            return ""
        measures = drill.now.plan.part.measures
        first, last = measures[place.first].number, measures[place.last].number
        return first if first == last else f"{first}–{last}"

    def bouts(self) -> list[Bout]:
        """Return what was played in the last weeks, for the load; taken out of the log it was played nevertheless."""
        since = datetime.now().astimezone() - _LOOKED_AT
        sets = self.log.sets(since=since) + self.log.sets(since=since, removed=True)
        return [played.bout for played in sets]

    def allowance(self, family: str, now: datetime) -> Allowance:
        """Return how long the next set of a drill may be."""
        return allowance(family, self.bouts(), now, self.log.limits().limits)

    def offers(self, piece: int) -> list[Offer]:
        """Return the drills that a piece asks for.

        Raises:
            NotFound: there is no such piece.
        """
        now = self._desk.open(piece)
        return self._offers.get_or_make(now.state, lambda: offers_of(now.plan))

    def offers_at(self, piece: int, note: str) -> list[Offer]:
        """Return the drills for the findings of a note, or else for its bar.

        Raises:
            NotFound: there is no such piece or note.
        """
        plan = self._desk.open(piece).plan
        found = [o for f in plan.findings if note in f.notes for o in drills_for(plan, f)]
        if not found:
            bar = plan.any_note(note).measure
            found = drills_for_passage(plan, [one.id for one in plan.notes if one.measure == bar])
        seen: dict[str, Offer] = {}
        for offer in found:
            seen.setdefault(offer.ask.family, offer)
        return self._with_second(piece, list(seen.values())[:MOST_OFFERS])

    def _with_second(self, piece: int, offers: list[Offer]) -> list[Offer]:
        """Return drills, and the same bars with the second part where the score has one."""
        if not offers or not self._hearing.others(piece):
            return offers
        ask = DrillAsk("with-second-part", "", Stage.BARS, offers[0].ask.first, offers[0].ask.last)
        return [*offers[: MOST_OFFERS - 1], Offer(ask, AskedBy.PASSAGE, "", offers[0].bars)]

    def offers_heard(self, piece: int, note: str, heard: Heard) -> list[Offer]:
        """Return the drills for what is heard on a note.

        Raises:
            NotFound: there is no such piece or note.
        """
        return drills_for_symptom(self._desk.open(piece).plan, note, heard)

    def offers_between(self, piece: int, first: str, last: str) -> list[Offer]:
        """Return the drills for some notes that were chosen.

        Raises:
            NotFound: there is no such piece or note.
        """
        plan = self._desk.open(piece).plan
        start, end = sorted((plan.part.index[plan.any_note(first).id], plan.part.index[plan.any_note(last).id]))
        found = drills_for_passage(plan, [event.id for event in plan.part.events[start : end + 1]])
        return self._with_second(piece, found)

    def candidates(self, pieces: Sequence[int]) -> list[Candidate]:
        """Return what a day could hold of some pieces: what they ask for, and what was begun and is not settled."""
        days = self.log.ready_by()
        found = []
        for piece in pieces:
            offers = {offer.ask.key: offer for offer in self.offers(piece)}
            played = self.log.sessions(piece)
            for key, offer in offers.items():
                found.append(Candidate(piece, offer, tuple(played.pop(key, ())), days.get(piece)))
            found += self._begun(piece, played, days.get(piece))
        return found

    def _begun(self, piece: int, played: Mapping[str, list[Session]], ready: date | None) -> Iterator[Candidate]:
        """Yield drills of the log that nothing asks for now: what asked for them is gone, or the player chose them."""
        last = self.log.last(piece)
        for key, sessions in played.items():
            ask = ask_in(key)
            if ask is None or not sessions:
                continue
            by_finding = last[key].why in {AskedBy.FINDING, AskedBy.CONTRAST}
            offer = Offer(ask, AskedBy(last[key].why or AskedBy.PLAYER), last[key].what, (last[key].bars,))
            yield Candidate(piece, offer, tuple(sessions), ready, gone=by_finding)

    def today(self, pieces: Sequence[int], minutes: float, now: datetime, wanted: Day) -> list[Entry]:
        """Return the day's work for the minutes there are, as the player has changed it.

        Args:
            pieces: that are worked at, the one that matters most first.
            minutes: that there are.
            now: when.
            wanted: what the player wants otherwise.
        """
        entries = day_plan(
            minutes,
            now,
            self.candidates(pieces),
            self.bouts(),
            self.log.limits().limits,
            runs=[(piece, self._own_bars(piece)) for piece in pieces[:1]],
            pinned=wanted.pinned,
            dropped=wanted.dropped,
        )
        laid = moved(entries, wanted.order)
        self._laid[now.date(), pieces[0] if len(pieces) == 1 else None] = laid
        return laid

    def place_in_day(self, piece: int | None, ask: DrillAsk, day: date) -> tuple[int, int, float] | None:
        """Return which of the day's entries a drill is, of how many, and the minutes that are left; None if it is none.

        The day is that of the page on which it was laid out last.
        """
        laid = self._laid.get((day, piece)) or self._laid.get((day, None))
        if laid is None:
            return None
        at = next((n for n, one in enumerate(laid) if one.ask == ask and one.piece == (piece or one.piece)), None)
        if at is None:
            return None
        since = datetime.combine(day, time()).astimezone()
        played = {one.drill for one in self.log.sets(since=since) if one.tries}
        left = sum(one.minutes for one in laid if one.ask is None or one.ask.key not in played)
        return at + 1, len(laid), left

    def _own_bars(self, piece: int) -> DrillAsk | None:
        """Return the bars in which the piece asks for most, to be played up to tempo."""
        plan = self._desk.open(piece).plan
        worst = next((f for f in plan.findings if f.place and plan.note[f.place[0]].stroke), None)
        first = worst.place[0] if worst else plan.bowed[0].id
        at = [note.id for note in plan.bowed].index(first)
        last = plan.bowed[min(at + IN_THE_BARS, len(plan.bowed) - 1)].id
        return DrillAsk("tempo-ladder", "the hair", Stage.AROUND, first, last)
