"""A take from a microphone that plays the simulated player: recorded, seen, heard, and on to a drill."""

import re
from pathlib import Path

from playwright.sync_api import Browser, expect

from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.core.sound import playable
from pathway.core.sound.strings import SAMPLES
from pathway.core.takes.player import Human, play
from pathway.demo.loader import DEMO_PIECES
from pathway.formats.score import ScoreFile, at_pitch
from pathway.formats.wav import wav
from tests.browser.conftest import ARGS, chromium


def _recorded(path: Path) -> Path:
    """Write twelve seconds of the violin piece, with weak up-bows, as the microphone's sound."""
    demo = next(one for one in DEMO_PIECES if one.key == "toll-house")
    rig = preset(demo.rig)
    plan = plan_part(at_pitch(ScoreFile(demo.document, "x.musicxml").part().part, rig), rig)
    path.write_bytes(wav(play(playable(plan), Human(weak_up=-4.0), 3, end=12.0).samples, SAMPLES))
    return path


def test_a_take_is_recorded_seen_heard_and_worked_at(browser: Browser, base_url: str, tmp_path: Path) -> None:
    """With a fake microphone."""
    sound = _recorded(tmp_path / "playing.wav")
    fake = (
        "--use-fake-ui-for-media-stream",
        "--use-fake-device-for-media-stream",
        f"--use-file-for-fake-audio-capture={sound}%noloop",
    )
    listening = browser.browser_type.launch(executable_path=chromium(), args=[*ARGS, *fake])
    page = listening.new_context(viewport={"width": 1280, "height": 800}, base_url=base_url).new_page()
    page.set_default_timeout(20_000)
    page.goto("/pieces/6/takes")
    page.get_by_label("to bar").select_option("5")
    page.get_by_role("button", name="Record", exact=True).click()
    expect(page.get_by_role("button", name="Stop")).to_be_visible()
    page.wait_for_timeout(11_500)
    page.get_by_role("button", name="Stop").click()
    page.wait_for_url(re.compile(r"/takes/\d+"))
    expect(page.locator(".three-lines")).to_contain_text("notes were found")
    assert page.locator(".take-dot").count() > 10
    page.locator(".hit").nth(3).click()
    expect(page.locator("#sheet .play-line")).to_be_attached()
    expect(page.locator("#of-note")).to_contain_text("against the plan")
    expect(page.locator(".hit.meant")).to_have_count(1)
    page.get_by_role("button", name="Intonation").click()
    expect(page.locator(".take-cents").first).to_be_visible()
    assert page.evaluate("document.getElementById('sound').currentTime") > 0
    page.goto("/pieces/6/takes")
    expect(page.get_by_role("link", name="Take", exact=True)).to_be_visible()
    page.get_by_label("to bar").select_option("1")
    page.get_by_label("in rounds").check()
    page.get_by_label("silent click").uncheck()
    page.get_by_role("button", name="Record", exact=True).click()
    expect(page.locator("#told")).to_contain_text("1 kept", timeout=15_000)
    page.keyboard.press("Space")
    expect(page.get_by_role("link", name="Take", exact=True)).to_have_count(2)
    first, second = (link.get_attribute("href") for link in page.get_by_role("link", name="Take", exact=True).all())
    page.goto(str(second))
    page.get_by_label("Beside it").select_option(str(first).rsplit("/", 1)[1])
    page.get_by_role("button", name="Hear the other one").click()
    expect(page.locator("#sound")).to_have_attribute("src", f"{first}/sound.flac")
    page.keyboard.press("b")
    expect(page.locator("#sound")).to_have_attribute("src", f"{second}/sound.flac")
    listening.close()
