"""From a plan to the picture: where ribbons, lanes, strings and signs lie."""

import re
from dataclasses import replace
from fractions import Fraction

import pytest
from lxml import etree

from pathway.core.planning import Lock, Plan, plan_part, replan
from pathway.core.planning.wishes import Link
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.core.technique.crossings import Sense
from pathway.formats.engraver import engraver
from pathway.formats.score import ScoreFile
from pathway.formats.staves import System, read_system
from pathway.web.shared.reading import signed
from pathway.web.shared.thumb import draw_thumbnail
from pathway.web.shared.tracks.geometry import PlanIndex, Tracks, spoken_pitch, tracks_of
from pathway.web.shared.tracks.look import HAIR
from pathway.web.shared.tracks.svg import draw_tracks
from pathway.web.sheet import pictures
from pathway.web.sheet.card import NoteCard
from tests.helpers import document, part_of, plan_of

TEXT = "[mf] (d4:4 e4) f#4:8 g4 a4:4> | b4:4 nr:4 nd4:4 ne4:4 | c5+e4:2 d4".replace("nr", "r")


@pytest.fixture(scope="module")
def plan() -> Plan:
    """A plan with a slur, a printed hook, a rest and a double stop."""
    return plan_of(TEXT)


@pytest.fixture(scope="module")
def system() -> System:
    """The engraved line of the same bars."""
    return read_system(engraver().draw(ScoreFile(document(TEXT), "x.musicxml").part().mei, 900)[0])


@pytest.fixture(scope="module")
def tracks(plan: Plan, system: System) -> Tracks:
    """Its tracks."""
    return tracks_of(PlanIndex(plan), system, 0)


def test_frog_is_at_the_top_and_tip_at_the_bottom(plan: Plan, tracks: Tracks) -> None:
    """Down-bows run down the page, by the share of the hair they use."""
    for ribbon in tracks.ribbons:
        stroke = plan.stroke[ribbon.stroke]
        fall = ribbon.pieces[-1].y1 - ribbon.pieces[0].y0
        assert fall == pytest.approx((stroke.end - stroke.start) / plan.rig.bow.hair * HAIR)
        assert (fall > 0) == (ribbon.direction == "down")


def test_every_note_has_its_piece_lane_string_and_hit_area(plan: Plan, tracks: Tracks) -> None:
    """One of each; a double stop has two strings."""
    ids = [note.id for note in plan.bowed]
    assert [p.note for r in tracks.ribbons for p in r.pieces] == ids
    assert [bar.note for bar in tracks.lanes] == ids
    assert [hit.note for hit in tracks.hits] == ids
    assert [bar.note for bar in tracks.strings].count(plan.bowed[-2].id) == 2


def test_hit_areas_leave_no_gaps(tracks: Tracks) -> None:
    """From one note to the next, to the end of the line."""
    for one, other in zip(tracks.hits, tracks.hits[1:], strict=False):
        assert one.x1 == pytest.approx(other.x0)


def test_joints_are_the_notes_inside_a_slur(tracks: Tracks) -> None:
    """One for a slur of two, none for single notes."""
    assert [len(r.joints) for r in tracks.ribbons][:2] == [1, 0]


def test_hooks_and_retakes_are_drawn(plan: Plan, tracks: Tracks) -> None:
    """A tick at a hook, a dotted hop at a retake."""
    svg = draw_tracks(tracks)
    hooks = sum(stroke.entry is Link.HOOK for stroke in plan.strokes)
    retakes = sum(stroke.entry is Link.RETAKE for stroke in plan.strokes)
    assert hooks + retakes > 0
    assert svg.count('class="hook"') == hooks
    assert svg.count('class="hop"') == retakes


def test_signs_tell_who_set_them(plan: Plan, system: System) -> None:
    """Printed, found, and locked with a dot."""
    locked = replan(plan, [Lock(plan.strokes[1].id, plan.strokes[1].direction)])
    signs = {s.stroke: s.fixed for s in tracks_of(PlanIndex(locked), system, 0).signs}
    assert signs[plan.strokes[1].id] == "locked"
    assert "printed" in signs.values()
    assert draw_tracks(tracks_of(PlanIndex(locked), system, 0)).count("lock-dot") == 1


def test_the_drawing_is_well_formed_and_named(tracks: Tracks) -> None:
    """Every hit area is a button with a spoken name; ids are escaped."""
    root = etree.fromstring(draw_tracks(tracks).encode())
    hits = root.findall("rect[@role='button']")
    assert (
        hits[0].get("aria-label")
        == "bar 1, beat 1, D 4, down-bow, "
        + re.findall(
            r"\d+ centimetres, lane \d, [\d.]+ centimetres from the bridge, core", hits[0].get("aria-label", "")
        )[0]
    )
    assert len(hits) == len(tracks.hits)
    assert spoken_pitch(61) == "C sharp 4"


def test_lines_that_look_alike_are_one_path_and_none_is_lost(plan: Plan, tracks: Tracks) -> None:
    """A step for every voice's string, every lane and every way from string to string; a mark on each hard one."""
    hard = replace(tracks.crossings[0], sense=Sense.HARD)
    root = etree.fromstring(draw_tracks(replace(tracks, crossings=(*tracks.crossings, hard, hard))).encode())
    steps = {path.get("class"): path.get("d", "") for path in root.iter("path")}
    assert steps["string-note"].count("M") == sum(len(note.voices) for note in plan.bowed)
    assert steps["lane-note"].count("M") == len(root.findall(".//circle[@class='lane-dot']")) == len(plan.bowed)
    ways = [path.get("d", "").count("M") for path in root.iter("path") if path.get("class", "").startswith("crossing ")]
    assert sorted(ways) == [2, len(plan.crossings)]
    assert steps["hard-mark"].count("M") == 2


def test_off_tones_carry_a_hatch(plan: Plan, system: System) -> None:
    """Never colour alone."""
    tracks = tracks_of(PlanIndex(plan), system, 0)
    piece = tracks.ribbons[0].pieces[0]
    assert 'class="hatch-' not in draw_tracks(tracks)
    from dataclasses import replace

    pressed = replace(tracks.ribbons[0], pieces=(replace(piece, tone="pressed"),))
    assert 'class="hatch-pressed"' in draw_tracks(replace(tracks, ribbons=(pressed,)))


def test_thumbnails_draw_every_stroke() -> None:
    """A line each, inside the picture."""
    svg = draw_thumbnail([[0, 0.5, 0, 1], [0.5, 1, 1, 0]])
    assert svg.count("M") == 2 + 2
    assert "240" in svg


def test_pictures_show_the_note(plan: Plan) -> None:
    """All four are well-formed, named, and put the bow where the note has it."""
    note = plan.bowed[0]
    made = [
        pictures.bow_picture(note, plan.rig, Direction.DOWN),
        pictures.string_picture(note, plan.rig),
        pictures.bridge_picture(note, plan.rig),
        pictures.window_picture(note, plan.rig),
    ]
    for svg in made:
        assert etree.fromstring(svg.encode()).get("aria-label")
    assert f"{100 * note.start:.1f} → {100 * note.end:.1f} cm" in made[0]
    assert made[1].count("string played") == made[2].count("string-end played") == 1
    double = plan.bowed[-2]
    assert pictures.bridge_picture(double, plan.rig).count("string-end played") == 2


def test_the_card_speaks_plainly(plan: Plan) -> None:
    """Title, manner, who decided, and numbers with true signs."""
    card = NoteCard(plan, plan.bowed[0])
    assert card.title == "Bar 1 · D4"
    assert card.subtitle == "legato over 2 notes · on D · beat 1"
    assert card.fixed == "found by the plan"
    assert "core tone" in card.tone_words
    assert NoteCard(plan, plan.note["n8"]).fixed == "printed in the part"


@pytest.mark.parametrize(("value", "text"), [(1.26, "+1.3"), (-0.51, "−0.5"), (-0.01, "0.0"), (0.0, "0.0")])
def test_numbers_carry_true_signs(value: float, text: str) -> None:
    """Nothing is never negative."""
    assert signed(value, 1) == text


def test_a_tremolo_is_drawn_to_and_fro_and_says_its_rate() -> None:
    """As many turns as there is room for, even or odd as they are; the card counts all of them."""
    text = "[mf] d4:1"
    part = part_of(text)
    for value in (Fraction(1, 2), Fraction(1, 4), Fraction(1, 8)):
        repeated = replace(part, events=tuple(replace(event, repeated=value) for event in part.events))
        plan = plan_part(repeated, preset("violin"))
        system = read_system(engraver().draw(ScoreFile(document(text), "x.musicxml").part().mei, 900)[0])
        tracks = tracks_of(PlanIndex(plan), system, 0)
        piece, bows = tracks.ribbons[0].pieces[0], plan.strokes[0].bows
        assert 2 <= piece.bows <= bows
        assert piece.bows % 2 == bows % 2
        drawn = draw_tracks(tracks)
        turns = re.search(r'class="rib[^>]*>.*?d="(M[^"]*)"', drawn, re.DOTALL)
        assert turns is not None
        assert turns[1].count("L") == piece.bows
        assert f"{bows} bows, {bows / 3:.1f} a second" in NoteCard(plan, plan.bowed[0]).subtitle


def test_the_card_tells_what_changes_from_start_to_end() -> None:
    """A loud whole note lets off towards the tip, and the little finger gives way to the index; a hairpin grows."""
    whole = plan_of("[ff] d4:1 | e4:1", tempo=90)
    told = {(v.name, v.beside): v.value for v in NoteCard(whole, whole.notes[0]).more}
    first, steady, last = map(int, told["Weight as it starts, holds, ends", ""].split(" → "))
    assert first >= steady >= last
    assert first > 1.3 * last
    assert {("Little finger", "as it starts"), ("Index finger", "at the end")} <= told.keys()
    assert not any(name.startswith("Level, start") for name, _ in told)
    grown = plan_of("[p] [<] d4:1 | [*] [f] e4:1")
    (swell,) = [v.value for v in NoteCard(grown, grown.notes[0]).more if v.name.startswith("Level, start")]
    assert re.fullmatch(r"−\d+\.\d → [+−]\d+\.\d", swell)
