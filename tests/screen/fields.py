"""What people do with a field of a sheet."""

import re

from playwright.sync_api import Locator, Page


def pick(scope: Page | Locator, name: str, words: str) -> None:
    """Choose from a list by what an option begins with, up to its hint."""
    box = scope.get_by_role("combobox", name=name)
    option = box.locator("option", has_text=re.compile(rf"^{re.escape(words)}( · |$)"))
    box.select_option(value=option.get_attribute("value"))
