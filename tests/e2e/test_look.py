"""Every page reads well: contrast of each pair of colours in use, and axe-core's WCAG 2.2 A and AA rules."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.conftest import IRIS, Enter, Site
from tests.e2e.test_month import read_october

ROOT = Path(__file__).resolve().parents[2]
AXE = ROOT / "web/node_modules/axe-core/axe.min.js"
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]

PAIRS = [
    *((text, ground) for text in ("ink", "muted", "wine", "ember", "slate") for ground in ("sheet", "paper")),
    *(("ink", ground) for ground in ("wine-soft", "ember-soft", "slate-soft")),
    ("wine", "wine-soft"),
    ("ember", "ember-soft"),
    ("slate", "slate-soft"),
    ("muted", "wine-soft"),
    ("muted", "ember-soft"),
    ("on-wine", "wine"),
]


def tokens(block: str) -> dict[str, str]:
    css = (ROOT / "web/src/styles.css").read_text()
    body = css[css.index(block) :].split("}", 1)[0]
    return dict(re.findall(r"--([\w-]+): (#[0-9a-f]{6})", body))


def luminance(colour: str) -> float:
    parts = [int(colour[n : n + 2], 16) / 255 for n in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: str, other: str) -> float:
    bright, dim = sorted((luminance(one), luminance(other)), reverse=True)
    return (bright + 0.05) / (dim + 0.05)


def test_the_contrast_formula_is_wcag_s() -> None:
    """WCAG 2.2, success criterion 1.4.3: #767676 on white passes at 4.54, #777777 fails at 4.48."""
    assert round(contrast("#767676", "#ffffff"), 2) == 4.54
    assert round(contrast("#777777", "#ffffff"), 2) == 4.48


@pytest.mark.parametrize("block", [":root {", '[data-theme="dark"] {'])
@pytest.mark.parametrize(("text", "ground"), PAIRS)
def test_every_pair_of_colours_in_use_can_be_read(block: str, text: str, ground: str) -> None:
    found = tokens(block)
    assert contrast(found[text], found[ground]) >= 4.5


def faults(page: Page) -> list[str]:
    page.evaluate(AXE.read_text())
    found = page.evaluate("async (tags) => await axe.run({runOnly: {type: 'tag', values: tags}})", TAGS)
    return [f"{v['id']}: {v['nodes'][0]['html'][:160]}" for v in found["violations"]]


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_pages_keep_the_rules_of_accessibility(site: Site, enter: Enter, theme: str) -> None:
    page = enter(IRIS)
    page.context.add_init_script(f"localStorage.setItem('theme', '{theme}')")
    page.reload()
    expect(page.get_by_role("heading", name="Next to do")).to_be_visible()
    assert faults(page) == []
    read_october(page, site)
    assert faults(page) == []
    for name in ("Statements", "Books", "Papers"):
        page.get_by_role("link", name=name, exact=True).click()
        expect(page.get_by_role("heading").first).to_be_visible()
        assert faults(page) == []


def test_at_least_eighteen_rows_of_the_spine_are_in_sight(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    read_october(page, site)
    whole = page.evaluate(
        """() => { const box = document.querySelector('[data-testid=spine]').getBoundingClientRect();
        return [...document.querySelectorAll('[data-row]')].filter(row => {
          const at = row.getBoundingClientRect(); return at.top >= box.top && at.bottom <= box.bottom }).length }"""
    )
    assert whole >= 18
