"""Days and amounts as banks write them; nothing is guessed: a text fits a way of writing or it does not."""

from __future__ import annotations

import re
from datetime import date
from functools import cache

from netnaught.core.money import Currency, MoneyError, currency, parse_plain

_MONTHS = {
    name: number
    for number, names in enumerate(
        (
            "jan january januar janvier enero gennaio",
            "feb february februar fevrier febrero febbraio",
            "mar march marz mrz mars marzo",
            "apr april avril abril aprile",
            "may mai mayo maggio",
            "jun june juni juin junio giugno",
            "jul july juli juillet julio luglio",
            "aug august aout agosto",
            "sep sept september septembre septiembre settembre",
            "oct october okt oktober octobre octubre ottobre",
            "nov november novembre noviembre",
            "dec december dez dezember decembre diciembre dicembre",
        ),
        1,
    )
    for name in names.split()
}
_NUMBERS = re.compile(r"(\d{1,4})[./\-\s](\d{1,2})[./\-\s](\d{1,4})\.?(?:[ T]\d{1,2}:\d{2}(?::\d{2})?.*)?", re.ASCII)
_SOLID = re.compile(r"(\d{4})(\d{2})(\d{2})", re.ASCII)
_NAMED = re.compile(
    r"(\d{1,2})[\s.\-/]*([^\W\d_]{3,9})\.?[\s,.\-/]*(\d{2,4})|([^\W\d_]{3,9})\.?\s+(\d{1,2}),?\s+(\d{4})"
)
ORDERS = ("ymd", "dmy", "mdy")


def _plain_letters(text: str) -> str:
    return text.lower().translate(str.maketrans("éèûôäá", "eeuoaa"))


def _century(year: int, written: str) -> int:
    return year + 2000 if len(written) == 2 else year


def _make(year: int, month: int, day: int) -> date | None:
    try:
        return date(year, month, day)
    except ValueError:
        return None


def read_day(text: str, order: str) -> date | None:
    """The day that a text means in an order of its parts ("ymd", "dmy", "mdy"); None when it means none."""
    text = text.strip()
    named = _NAMED.fullmatch(text)
    if named:
        day, word, year = (named[1], named[2], named[3]) if named[1] else (named[5], named[4], named[6])
        number = _MONTHS.get(_plain_letters(word))
        return _make(_century(int(year), year), number, int(day)) if number else None
    solid = _SOLID.fullmatch(text)
    if solid:
        return _make(int(solid[1]), int(solid[2]), int(solid[3]))
    found = _NUMBERS.fullmatch(text)
    if not found:
        return None
    parts = [found[1], found[2], found[3]]
    year_first = len(parts[0]) == 4
    if year_first:
        return _make(int(parts[0]), int(parts[1]), int(parts[2])) if len(parts[2]) <= 2 else None
    if len(parts[0]) > 2 or len(parts[2]) not in (2, 4) or order == "ymd":
        return None
    year = _century(int(parts[2]), parts[2])
    if "." in text and order != "dmy":
        return None  # days parted by points are written day first everywhere
    first, second = int(parts[0]), int(parts[1])
    return _make(year, second, first) if order == "dmy" else _make(year, first, second)


_AMOUNT = re.compile(r"[+-]?\d[\d.,' ]*|[+-]?[.,]\d+", re.ASCII)
_SPACES = re.compile(r"[\u00a0\u202f\u2009]")


_UNIT = re.compile(r"^(?:[A-Z]{3}|[$\u20ac\u00a3\u00a5])\s?|\s?(?:[A-Z]{3}|[$\u20ac\u00a3])$")


@cache
def _is_unit(text: str) -> bool:
    """Whether a text is a currency: `USD 5.00` is an amount, `REF 5` is a reference."""
    if len(text) < 3:
        return True
    try:
        return bool(currency(text))
    except MoneyError:
        return False


def _bare(text: str) -> tuple[str, bool]:
    """The digits with their marks, and whether the writing makes them negative."""
    text = _SPACES.sub(" ", text.strip()).replace("\u2212", "-").replace("\u2019", "'")
    text = _UNIT.sub(lambda unit: "" if _is_unit(unit[0].strip()) else unit[0], text).strip()
    text = re.sub(r"^([+-])\s?[$\u20ac\u00a3\u00a5]?\s?", r"\1", text)
    if text.startswith("(") and text.endswith(")"):
        return text[1:-1].strip().lstrip("$\u20ac\u00a3"), True
    if text.endswith("-") or text.endswith("+"):
        return text[:-1].strip(), text.endswith("-")
    return text, False


def looks_like_amount(text: str) -> bool:
    """Whether a text is written as an amount, in any way."""
    bare, _ = _bare(text)
    return bool(_AMOUNT.fullmatch(bare))


def read_amount(text: str, decimal: str, of: Currency) -> int | None:
    """Minor units of a text whose decimal sign is `decimal`; None when it is no amount so written.

    Thousands are grouped by three with one kind of mark, the other of point and comma, a
    space or an apostrophe. Negative: a minus before or behind, or brackets.
    """
    bare, negative = _bare(text)
    if not _AMOUNT.fullmatch(bare):
        return None
    other = "," if decimal == "." else "."
    group = rf"[+-]?(?:\d+|\d{{1,3}}(?:{re.escape(other)}\d{{3}})+|\d{{1,3}}(?: \d{{3}})+|\d{{1,3}}(?:'\d{{3}})+)?"
    if not re.fullmatch(rf"{group}(?:{re.escape(decimal)}\d*)?", bare):
        return None
    plain = re.sub(rf"[{re.escape(other)} ']", "", bare).replace(decimal, ".")
    plain = re.sub(r"^([+-]?)\.", r"\g<1>0.", plain)
    try:
        amount = parse_plain(plain, of)
    except MoneyError:
        return None
    return -amount if negative else amount


def tells(text: str, of: Currency) -> str:
    """Which decimal sign an amount shows: "." or ","; "either" for one mark before three digits; "" for none."""
    bare, _ = _bare(text)
    if re.fullmatch(r"[+-]?\d{1,3}[.,]\d{3}", bare) and of.digits != 3:
        return "either"
    signs = [sign for sign in ".," if read_amount(text, sign, of) is not None]
    return signs[0] if len(signs) == 1 else ""


def looks_like_day(text: str) -> bool:
    """Whether a text is written as a day, even of no calendar."""
    return bool(_NUMBERS.fullmatch(text.strip()) or _SOLID.fullmatch(text.strip()))
