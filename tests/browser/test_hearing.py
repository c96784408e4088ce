"""The plan is heard: an analyser in the page finds the pitch of the first note, a press sounds a bar."""

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.listens

LISTEN = """
window.heard = [];
const connect = AudioNode.prototype.connect;
AudioNode.prototype.connect = function (to, ...rest) {
  if (to instanceof AudioDestinationNode && !window.ear) {
    window.ear = new AnalyserNode(this.context, { fftSize: 16384, smoothingTimeConstant: 0 });
    connect.call(this, window.ear);
  }
  return connect.call(this, to, ...rest);
};
window.listen = () => {
  const bins = new Float32Array(window.ear.frequencyBinCount);
  window.ear.getFloatFrequencyData(bins);
  const at = bins.indexOf(Math.max(...bins));
  return { pitch: (at * window.ear.context.sampleRate) / window.ear.fftSize, level: bins[at] };
};
"""


def _loudest(page: Page, after: float) -> dict[str, float]:
    page.wait_for_timeout(after)
    found: dict[str, float] = page.evaluate("listen()")
    return found


def _sounds(page: Page, least: float) -> bool:
    """Whether it gets as loud as a level [dB] within some seconds: a busy machine begins late."""
    for _ in range(100):
        if page.evaluate("window.ear ? listen().level : -1000") > least:
            return True
        page.wait_for_timeout(100)
    return False


def _settled(page: Page, **wishes: object) -> None:
    """Set what sounds, as the menu would keep it."""
    page.add_init_script(LISTEN)
    pairs = ", ".join(f"{name}: {str(value).lower()}" for name, value in wishes.items())
    page.add_init_script(f"localStorage.setItem('sound', JSON.stringify({{{pairs}}}))")


def test_play_sounds_the_strings(page: Page) -> None:
    """The first note of the viola piece is loud at one of its harmonics; Space ends it."""
    _settled(page, click=False, countIn=False)
    page.goto("/pieces/2")
    plan = page.request.get("/pieces/2/plan.json").json()
    first = plan["notes"][0]
    pitch = 440 * 2 ** ((first["voices"][0]["midi"] - 69) / 12)
    page.keyboard.press("Space")
    expect(page.locator(".play-line")).to_be_attached()
    found = _loudest(page, 600 + 300)
    order = found["pitch"] / pitch
    assert found["level"] > -70
    assert abs(order - round(order)) < 0.06, f"{found} is no harmonic of {pitch:.1f} Hz"
    page.keyboard.press("Space")
    expect(page.locator(".play-line")).to_have_count(0)
    assert _loudest(page, 900)["level"] < found["level"] - 20


def test_while_it_plays_the_bow_goes_along_its_hair_in_both_pictures(page: Page) -> None:
    """A dot on the sheet's line and one on the bow of the card; both go on, and are gone when it ends."""
    _settled(page, click=False, countIn=False)
    page.goto("/pieces/2")
    page.keyboard.press("Space")
    dots = [page.locator(".tracks > .play-bow"), page.locator('[data-picture="bow"] .play-bow')]
    for dot, along in zip(dots, ("cy", "cx"), strict=True):
        expect(dot).to_have_count(1)
        expect(dot).not_to_have_attribute(along, dot.get_attribute(along) or "")
    page.keyboard.press("Space")
    for dot in dots:
        expect(dot).to_have_count(0)


def test_a_press_sounds_the_bar_and_another_ends_it(page: Page) -> None:
    """The button tells that it sounds; p is its key."""
    _settled(page)
    page.goto("/pieces/2")
    bar = page.locator("#card [data-sound=bars]").first
    bar.click()
    expect(bar).to_have_attribute("aria-pressed", "true")
    assert _sounds(page, -75)
    page.keyboard.press("p")
    expect(bar).to_have_attribute("aria-pressed", "false")


def test_a_help_is_heard_before_and_after(page: Page) -> None:
    """Two sounds in turn: the plan, and the plan with the help in it."""
    _settled(page)
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url) if "sound.wav" in request.url else None)
    page.goto("/pieces/2")
    page.locator("[data-goto]").first.click()
    page.get_by_role("button", name=re.compile("Hear before, then after")).first.click()
    expect(page.locator("#card [data-in-turn][aria-pressed=true]")).to_have_count(1)
    assert _sounds(page, -80)
    page.wait_for_timeout(500)
    assert len(asked) == 2
    assert ["fix=" in url for url in sorted(asked, key=lambda url: "fix=" in url)] == [False, True]


def test_what_sounds_is_chosen_once(page: Page) -> None:
    """The menu keeps it in the browser; it says what is heard, and warns of loud sound."""
    page.goto("/pieces/2")
    page.get_by_role("button", name="Sound", exact=True).click()
    menu = page.locator("#sound-menu")
    expect(menu).to_contain_text("competent hand")
    expect(menu).to_contain_text("harms the ear")
    menu.get_by_label("a click").uncheck()
    menu.get_by_label("Drone").select_option(index=1)
    page.reload()
    page.get_by_role("button", name="Sound", exact=True).click()
    expect(page.locator("#sound-menu").get_by_label("a click")).not_to_be_checked()
    expect(page.locator("#sound-menu").get_by_label("Drone")).not_to_have_value("")


def test_an_edit_while_it_plays_is_heard_from_the_next_bar(page: Page) -> None:
    """The line goes on, and what is asked for next is the plan after the edit."""
    _settled(page, countIn=False)
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url) if "sound.wav" in request.url else None)
    page.goto("/pieces/2")
    page.keyboard.press("Space")
    expect(page.locator(".play-line")).to_be_attached()
    before = page.locator("#tempo").get_attribute("data-version")
    page.keyboard.press("2")
    expect(page.locator("#tempo")).not_to_have_attribute("data-version", before or "")
    after = page.locator("#tempo").get_attribute("data-version")
    page.wait_for_timeout(2500)
    expect(page.locator(".play-line")).to_be_attached()
    assert any(f"version={after}" in url for url in asked), asked
    page.keyboard.press("Space")


def test_a_selection_sounds_over_and_over_without_a_gap(page: Page) -> None:
    """Each round is scheduled before the one that sounds has ended, at the same distance.

    What a busy machine starts late begins inside, by as much as it is late.
    """
    _settled(page, click=False, countIn=False)
    page.add_init_script("""
      const start = AudioBufferSourceNode.prototype.start;
      AudioBufferSourceNode.prototype.start = function (at, inside = 0) {
        (window.starts ??= []).push([this.context.currentTime, at, at - inside]);
        return start.call(this, at, inside);
      };
    """)
    page.goto("/pieces/2")
    page.locator("#sheet .hit").first.focus()
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Space")
    starts: list[list[float]] = []
    for _ in range(60):
        page.wait_for_timeout(200)
        starts = page.evaluate("window.starts ?? []")
        if len(starts) >= 4:
            break
    assert len(starts) >= 4
    due = [begins for _, _, begins in starts]
    notes = page.request.get("/pieces/2/beats.json").json()["notes"]
    length = max(notes[2][2], notes[3][1]) - notes[0][1]
    rounds = round((due[2] - due[0]) / length)
    assert rounds in {1, 2}, "two stretches a round, or one"
    assert [due[2] - due[0], due[3] - due[1]] == pytest.approx([rounds * length] * 2, abs=0.01)
    assert due == sorted(due)
    assert all(now < at for now, at, _ in starts[1:])
    page.keyboard.press("Space")
