"""The show-reel: all loops one after the other over the whole window."""

from playwright.sync_api import Page, expect


def test_the_reel_plays_goes_on_and_is_left(page: Page):
    page.goto("/reel")
    reel = page.get_by_role("main", name="Show-reel")
    title = reel.get_by_role("heading", level=1)
    # As they stand in the gallery.
    first = page.request.get("/api/studies").json()["studies"][0]["name"]
    expect(title).to_have_text(first)
    expect(reel.get_by_role("button", name="Pause")).to_be_visible()
    expect(reel.locator("canvas").first).to_be_visible(timeout=60_000)
    page.keyboard.press("Space")
    expect(reel.get_by_role("button", name="Play", exact=True)).to_be_visible()
    page.keyboard.press("ArrowRight")
    expect(title).not_to_have_text(first)
    expect(reel).to_contain_text("2 of")
    page.keyboard.press("ArrowLeft")
    expect(title).to_have_text(first)
    page.keyboard.press("Escape")
    expect(page).to_have_url("/")
