"""Make the TrueType fonts of the papers from the web fonts that ship with the screens.

The npm packages hold variable WOFF2 files, Latin and Latin-extended apart; PDF needs fixed
TrueType files. Run by `make build`; the result is not committed.
"""

from __future__ import annotations

import sys
from io import BytesIO
from pathlib import Path

from fontTools import merge
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

ROOT = Path(__file__).resolve().parent.parent
PACKAGES = ROOT / "web" / "node_modules" / "@fontsource-variable"
TARGET = ROOT / "netnaught" / "papers" / "fonts"
FACES = (
    ("atkinson-hyperlegible-next", 400, "Text"),
    ("atkinson-hyperlegible-next", 700, "TextBold"),
    ("atkinson-hyperlegible-mono", 400, "Mono"),
    ("atkinson-hyperlegible-mono", 700, "MonoBold"),
)


def _fixed(package: str, subset: str, weight: int) -> BytesIO:
    font = TTFont(PACKAGES / package / "files" / f"{package}-{subset}-wght-normal.woff2")
    font.flavor = None
    fixed = instancer.instantiateVariableFont(font, {"wght": weight})
    for table in ("GSUB", "GPOS", "GDEF", "STAT", "HVAR", "MVAR"):
        if table in fixed:
            del fixed[table]
    out = BytesIO()
    fixed.save(out)
    out.seek(0)
    return out


def main() -> int:
    """Write the four faces."""
    TARGET.mkdir(exist_ok=True)
    for package, weight, name in FACES:
        parts = [_fixed(package, subset, weight) for subset in ("latin", "latin-ext")]
        face = merge.Merger().merge(parts)
        # reportlab embeds one face per PostScript name: each weight needs its own.
        for record in face["name"].names:
            if record.nameID in (1, 4, 6):
                record.string = f"NetNaught{name}"
        face.save(TARGET / f"{name}.ttf")
    return 0


if __name__ == "__main__":
    sys.exit(main())
