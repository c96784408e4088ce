"""The rebounding bow: worked rates and heights, places for thrown strokes, and calibration."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pathway.core.physics.bounce import Bounce, calibrated
from pathway.core.physics.hair import hair_share
from pathway.core.rig import preset
from pathway.errors import OutOfRange, RigError

BOW = preset("violin").bow
BOUNCE = Bounce(BOW, 1.0)


def test_inertia_of_a_violin_bow() -> None:
    """.0054 kg m² about the hold, as measured bows have it."""
    assert pytest.approx(0.0054, rel=0.01) == BOW.inertia


@pytest.mark.parametrize(("place", "rate"), [(0.08, 6.3), (0.18, 9.3), (0.28, 12.6), (0.38, 16.9), (0.48, 23.7)])
def test_rates_along_a_violin_bow(place: float, rate: float) -> None:
    """Worked from tension, length and inertia, the hair alone."""
    assert BOUNCE.rate(place) == pytest.approx(rate, abs=0.06)


@pytest.mark.parametrize(("place", "millimetres"), [(0.20, 3.7), (0.30, 7.4)])
def test_flight_of_sixteenths(place: float, millimetres: float) -> None:
    """Eight notes a second, with all of the weight on the string."""
    assert 1000 * BOUNCE.height(place, 8.0) == pytest.approx(millimetres, abs=0.06)


def test_a_string_under_the_hair_slows_the_bow() -> None:
    """Two springs in line are softer than one; less hair is softer too."""
    assert Bounce(BOW, 1.0, string_stiffness=3000.0).rate(0.3) < BOUNCE.rate(0.3)
    assert Bounce(BOW, 1.0, hair_share=0.5).rate(0.3) == pytest.approx(BOUNCE.rate(0.3) * math.sqrt(0.5))


@given(st.floats(6.0, 11.5))
def test_spiccato_lies_where_the_flight_is_comfortable(rate: float) -> None:
    """The wanted height falls with the rate and is met at the place found."""
    place = BOUNCE.spiccato_place(rate)
    assert float(BOUNCE.height(place, rate)) == pytest.approx(BOUNCE.wanted_height(rate), abs=4e-4)


def test_slow_thrown_notes_are_led_nearer_the_frog() -> None:
    """A fifth of the hair at three a second, three hundredths more for each note more."""
    assert BOUNCE.spiccato_place(3.0) == pytest.approx(0.20 * BOW.hair)
    assert BOUNCE.spiccato_place(5.0) == pytest.approx(0.26 * BOW.hair)


@given(st.floats(8.0, 14.0))
def test_sautille_lies_where_the_bow_trembles_at_the_rate(rate: float) -> None:
    """There it answers; a hand's breadth away it does not."""
    place = BOUNCE.sautille_place(rate)
    assert BOUNCE.rate(place) == pytest.approx(rate, rel=0.02)
    assert BOUNCE.rate(place + 0.09) > 1.16 * rate


def test_ricochet_is_slower_the_higher_it_is_thrown() -> None:
    """Between seven and thirteen a second in the middle of a violin bow."""
    slow, fast = BOUNCE.ricochet_rates(0.40)
    assert 6.5 < slow < fast < 14


@given(st.floats(30.0, 90.0), st.floats(0.005, 0.05))
def test_calibration_finds_the_bow_that_was_tapped(tension: float, pivot: float) -> None:
    """Rates made from a bow at three places give that bow back, without a residual."""
    from dataclasses import replace

    true = replace(BOW, tension=tension, pivot=pivot, measured_inertia=BOW.inertia)
    taps = [(x, float(Bounce(true, 1.0).rate(x))) for x in (0.1, 0.25, 0.42)]
    found = calibrated(BOW, taps)
    assert found.bow.tension == pytest.approx(tension, rel=0.03)
    assert found.bow.pivot == pytest.approx(pivot, abs=0.001)
    assert found.residual < 0.002


def test_two_places_fit_the_tension_alone() -> None:
    """The pivot stays; scatter shows as a residual."""
    found = calibrated(BOW, [(0.18, 9.8), (0.38, 16.9)])
    assert found.bow.pivot == BOW.pivot
    assert 0.01 < found.residual < 0.05
    assert 55 < found.bow.tension < 70


@pytest.mark.parametrize(
    ("taps", "said"),
    [
        ([(0.2, 10.0)], "One place is not enough"),
        ([(0.2, 10.0), (0.201, 10.1)], "One place is not enough"),
        ([(0.2, 10.0), (0.9, 20.0)], "place on the hair is 90"),
        ([(0.2, 0.0), (0.4, 20.0)], "rebound rate is 0"),
        ([(0.2, float("nan")), (0.4, 20.0)], "rebound rate is nan"),
        ([(0.1, 25.0), (0.5, 5.0)], "do not belong to one bow"),
        ([(0.2, 2.1), (0.4, 3.6)], "do not belong to one bow"),
    ],
)
def test_nonsense_is_refused(taps: list[tuple[float, float]], said: str) -> None:
    """What cannot come from one bow is told apart from what can."""
    with pytest.raises((OutOfRange, RigError), match=said):
        calibrated(BOW, taps)


@given(st.floats(0.06, 0.55), st.floats(6.5, 12.0), st.floats(0, 44), st.floats(0, 44))
def test_more_tilt_never_raises_the_flight(place: float, rate: float, one: float, other: float) -> None:
    """A softer spring touches longer, flies lower, and is never drier."""
    flat, tilted = (
        Bounce(BOW, 1.0, 4000.0, float(hair_share(math.radians(degrees)))) for degrees in sorted((one, other))
    )
    assert tilted.height(place, rate) <= flat.height(place, rate) + 1e-12
    assert tilted.rate(place) <= flat.rate(place) + 1e-9
    assert tilted.dryness(place, rate) <= flat.dryness(place, rate) + 1e-9


@given(st.floats(0.06, 0.55), st.floats(6.5, 12.0), st.floats(800, 9000), st.floats(800, 9000))
def test_a_stiffer_string_never_slows_the_bow(place: float, rate: float, one: float, other: float) -> None:
    """So a lane nearer the bridge gives a quicker rebound, and never a lower flight."""
    soft, stiff = (Bounce(BOW, 1.0, spring) for spring in sorted((one, other)))
    assert stiff.rate(place) >= soft.rate(place)
    assert stiff.height(place, rate) >= soft.height(place, rate)
    assert stiff.landing_weight(place, rate) >= soft.landing_weight(place, rate)


@pytest.mark.parametrize(("rate", "low", "high"), [(10.0, 0.36, 0.48), (13.0, 0.48, 0.60)])
def test_a_sautille_lies_where_players_have_it(rate: float, low: float, high: float) -> None:
    """In or just below the middle at ten to thirteen a second, on a violin's string at its usual tilt."""
    bounce = Bounce(BOW, 0.95, 1600.0, float(hair_share(math.radians(15))))
    assert low <= bounce.sautille_place(rate) / BOW.hair <= high
