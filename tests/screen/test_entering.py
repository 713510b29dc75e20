"""A browser that was let in is known; one nobody let in is told how to get in, and gets nothing else."""

import pytest
from playwright.sync_api import expect


@pytest.fixture
def stranger(browser, program, tmp_path):
    """A page of a browser that the program does not know."""
    profile = browser.profile(tmp_path / "stranger", program.address)
    yield profile.pages[0]
    profile.close()


def test_a_browser_nobody_let_in_is_told_how_and_comes_in_by_an_address_that_is_printed(stranger, program):
    refused = stranger.goto("/")
    assert refused is not None
    assert refused.status == 401
    expect(stranger.get_by_role("heading", name="not known here")).to_be_visible()
    assert stranger.evaluate("() => fetch('/api/projects').then((answer) => answer.status)") == 401
    stranger.goto(program.way_in)
    stranger.wait_for_url(f"{program.address}/")
    assert stranger.evaluate("() => fetch('/api/projects').then((answer) => answer.status)") == 200
    # No script of a page can read what it is known by.
    assert stranger.evaluate("() => document.cookie") == ""
    assert "enter" not in stranger.url


def test_a_link_of_another_site_leads_to_a_page_that_leads_in(stranger, program, tmp_path):
    stranger.goto(program.way_in)
    stranger.wait_for_url(f"{program.address}/")
    stranger.goto("about:blank")
    stranger.set_content(f'<a href="{program.address}/">a link elsewhere</a>')
    stranger.get_by_text("a link elsewhere").click()
    stranger.get_by_role("link", name="Open Yarn Kite").click()
    expect(stranger.get_by_role("heading", name="not known here")).to_be_hidden()
    assert stranger.evaluate("() => fetch('/api/projects').then((answer) => answer.status)") == 200
