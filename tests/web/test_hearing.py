"""The sound that a study listens to is heard while it plays, in step with the playhead."""

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import stored_study
from tests.web.conftest import settled, until

# What plays, and where it is in its sound.
LISTEN = """() => {
  window.heard = [];
  const own = HTMLMediaElement.prototype.play;
  HTMLMediaElement.prototype.play = function () {
    if (!window.heard.includes(this)) window.heard.push(this);
    return own.call(this);
  };
}"""
PLAYING = "window.heard.length > 0 && window.heard.some((a) => !a.paused && a.currentTime > 0)"


@pytest.mark.thorough
def test_a_sound_is_heard_with_the_loop_and_silenced(page: Page):
    moving = {"signal": "sound", "low": 0, "high": 40, "begin": 2}
    stored_study(
        page,
        document(
            {"step": "icosphere", "values": {"halvings": 2}},
            {"step": "twist", "values": {"angle": moving}},
            frames=120,
        ),
    )
    settled(page)
    page.evaluate(LISTEN)
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("Space")
    until(page, PLAYING, None, seconds=20)
    assert "begin=2&seconds=5" in page.evaluate("window.heard[0].src")
    page.wait_for_timeout(700)
    apart = page.evaluate("""() => {
      const frame = Number(document.querySelector('[role=slider][aria-label=Frame]').getAttribute('aria-valuenow'));
      const away = Math.abs(window.heard.at(-1).currentTime - frame / 24) % 5;
      return Math.min(away, 5 - away);
    }""")
    assert apart < 0.4
    button = page.get_by_role("button", name="Hear the sound")
    expect(button).to_have_attribute("aria-pressed", "true")
    button.click()
    assert page.evaluate("window.heard.every((a) => a.paused)")
    expect(button).to_have_attribute("aria-pressed", "false")
    button.click()
    until(page, PLAYING, None, seconds=20)
    page.get_by_role("button", name="Pause").click()
    assert page.evaluate("window.heard.every((a) => a.paused)")


@pytest.mark.thorough
def test_where_nothing_listens_there_is_nothing_to_silence(page: Page):
    stored_study(page, document({"step": "icosphere", "values": {"halvings": 2}}))
    expect(page.get_by_role("button", name="Play")).to_be_visible()
    expect(page.get_by_role("button", name="Hear the sound")).to_have_count(0)
