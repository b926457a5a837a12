"""A layout proposed from the table itself; what could be read in two ways is put as a question."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from netnaught.core.money import Currency
from netnaught.formats.reading import Unreadable
from netnaught.formats.tables.grid import Grid, GridRow, column_name
from netnaught.formats.tables.layout import ColumnRole, Layout
from netnaught.formats.tables.read import breaks_of, read_grid
from netnaught.formats.tables.values import looks_like_amount, read_amount, read_day, tells

_WORDS: tuple[tuple[ColumnRole, str], ...] = (
    (ColumnRole.VALUE_DATE, r"value ?date|valuta|wertstellung|effective|date de valeur"),
    (ColumnRole.DATE, r"date|datum|buchung(stag)?|posted|fecha|data"),
    (ColumnRole.BALANCE, r"balance( owed| due)?|saldo|solde|kontostand"),
    (ColumnRole.MONEY_IN, r"credits?|deposits?|paid in|money in|in|haben|additions?|receipts?|cr(edit)? amount"),
    (
        ColumnRole.MONEY_OUT,
        r"debits?|withdrawals?|paid out|money out|out|soll|charges?|payments?|subtractions?|dr(ebit)? amount",
    ),
    (ColumnRole.MARKER, r"(dr|db)/?cr|c/?d|d/?c|sign|type|debit/credit|credit/debit|s/h|vorzeichen"),
    (ColumnRole.AMOUNT, r"amount|betrag|montant|importe|umsatz|sum|value"),
    (ColumnRole.CURRENCY, r"currency|ccy|w(ä|ae)hrung|devise"),
    (ColumnRole.KIND, r"kind"),
    (ColumnRole.ID, r"(transaction|bank|trans|unique) ?id|id|transaction (no|number)\.?"),
    (ColumnRole.REFERENCE, r"ref(erence)?\.?( ?(no|number)\.?)?|check ?(no|number|#)?\.?|cheque.*|slip.*|number|no\.?"),
    (
        ColumnRole.TEXT,
        r"description|details?|text|narrative|memo|payee|name|particulars|verwendungszweck|purpose|transaction|"
        r"merchant|libell.*|concept.*|beschreibung|empf.*|counterparty|buchungstext|entry",
    ),
)
_OUT_WORDS = frozenset({"d", "dr", "db", "dbit", "debit", "s", "soll", "-", "out", "withdrawal"})
_IN_WORDS = frozenset({"c", "cr", "crdt", "credit", "h", "haben", "+", "in", "deposit"})


@dataclass(frozen=True, slots=True)
class LayoutQuestion:
    """What the table leaves open: which setting, the question in words, and the choices."""

    setting: str
    text: str
    choices: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Proposed:
    """A layout with what is still to be asked; nothing is to be asked when `questions` is empty."""

    layout: Layout
    questions: tuple[LayoutQuestion, ...]


def propose(grid: Grid, of: Currency) -> Proposed:
    """Find the heading, the columns, and how days and amounts are written."""
    return complete(grid, draft_at(grid, _heading(grid.rows)), frozenset(), of)


def draft_at(grid: Grid, place: int | None) -> Layout:
    """A first draft whose heading is the row at `place`, None where the table has none; nothing is checked yet.

    Columns whose names say nothing are taken by what stands in them.
    """
    heading = () if place is None else grid.rows[place].cells
    below = grid.rows[0 if place is None else place + 1 :]
    roles = _by_content(_roles(_wide(heading, below), below), below)
    return Layout(grid.form, heading, roles, "ymd", ".", grid.delimiter)


def complete(grid: Grid, draft: Layout, settled: frozenset[str], of: Currency) -> Proposed:
    """Work out how days and amounts are written in the draft's columns, and ask what stays open.

    `settled`: names of settings that a person has stated; they are kept as they are.
    """
    draft.check()
    place = next((n for n, row in enumerate(grid.rows) if draft.fits(row.cells)), -1)
    below = [row for row in grid.rows[place + 1 :] if not draft.fits(row.cells)]
    dated = [row for row in below if _any_day(row.cell(draft.column(ColumnRole.DATE) or 0))]
    if not dated:
        raise Unreadable("no row below the heading begins with a date", line=grid.rows[max(place, 0)].line)
    outside = [" ".join(row.cells) for row in grid.rows[: max(place, 0)]] + list(grid.texts)
    questions: list[LayoutQuestion | None] = []
    if "date_order" not in settled:
        draft, question = _with_order(draft, dated, outside)
        questions.append(question)
    if "decimal" not in settled:
        draft, question = _with_decimal(draft, dated, of)
        questions.append(question)
    if "flip" not in settled:
        owed = draft.owed
        draft, question = _with_sign(draft, dated, of)
        draft = replace(draft, owed=owed) if "owed" in settled else draft
        if question:
            draft, question = _by_footing(grid, draft, question, of)
        questions.append(question)
    return Proposed(draft, tuple(q for q in questions if q))


def _wide(heading: Sequence[str], below: Sequence[GridRow]) -> tuple[str, ...]:
    """The heading, made as wide as the rows below it."""
    width = max([len(heading), *(len(row.cells) for row in below[:50])])
    return (*heading, *[""] * (width - len(heading)))


def _by_content(roles: tuple[ColumnRole, ...], below: Sequence[GridRow]) -> tuple[ColumnRole, ...]:
    """Where no name says which column is the date or the amount: the first whose every value can be one."""
    found = list(roles)
    sample = below[:50]

    def first(fits: Callable[[str], bool]) -> int | None:
        for column, role in enumerate(found):
            values = [cell for row in sample if (cell := row.cell(column))]
            free = role in (ColumnRole.IGNORE, ColumnRole.TEXT) and len(values) * 2 > len(sample)
            if free and sum(fits(value) for value in values) * 10 >= len(values) * 9:
                return column
        return None

    if ColumnRole.DATE not in found and (column := first(_any_day)) is not None:
        found[column] = ColumnRole.DATE
    if not {ColumnRole.AMOUNT, ColumnRole.MONEY_IN, ColumnRole.MONEY_OUT} & set(found):
        column = first(lambda value: looks_like_amount(value) and bool(re.search(r"[.,]\d\d[-+)]?$", value)))
        column = first(looks_like_amount) if column is None else column
        if column is not None:
            found[column] = ColumnRole.AMOUNT
    if ColumnRole.TEXT not in found:
        column = first(lambda value: bool(re.search(r"[^\W\d_]", value)) and not _any_day(value))
        if column is not None:
            found[column] = ColumnRole.TEXT
    return tuple(found)


def _any_day(text: str) -> bool:
    return any(read_day(text, order) for order in ("ymd", "dmy", "mdy"))


def role_of(cell: str) -> ColumnRole | None:
    """What a cell of a heading says its column holds; None when it says nothing known."""
    words = " ".join(re.sub(r"[()*:_]", " ", cell.lower()).split())
    for role, pattern in _WORDS:
        if re.fullmatch(pattern, words):
            return role
    for role, pattern in _WORDS:
        if role not in (ColumnRole.MARKER, ColumnRole.ID, ColumnRole.KIND) and re.search(
            rf"(?<!\w)(?:{pattern})(?!\w)", words
        ):
            return role
    return None


def _heading(rows: Sequence[GridRow]) -> int:
    """The row above the lines: most of its cells name a role, none is a date, and dates stand below it."""
    best, found = 0, -1
    for place, row in enumerate(rows[:60]):
        cells = [cell for cell in row.cells if cell.strip()]
        if len(cells) < 2 or any(_any_day(cell) for cell in cells):
            continue
        roles = {role_of(cell) for cell in cells} - {None}
        score = len(roles)
        if (
            score > best
            and ColumnRole.DATE in roles
            and {ColumnRole.AMOUNT, ColumnRole.MONEY_IN, ColumnRole.MONEY_OUT} & roles
        ):
            best, found = score, place
    if found < 0:
        raise Unreadable(
            "no heading was found: no row names a date and an amount above the lines",
            line=rows[0].line if rows else 1,
            value=" | ".join(rows[0].cells) if rows else "",
        )
    return found


def _roles(heading: Sequence[str], below: Sequence[GridRow]) -> tuple[ColumnRole, ...]:
    roles = [role_of(cell) or ColumnRole.IGNORE for cell in heading]
    # A column is only what its values can be; of two for one role the first counts.
    sample = below[:50]
    for column, role in enumerate(roles):
        values = [cell for row in sample if (cell := row.cell(column))]
        amounts = sum(looks_like_amount(value) for value in values)
        if (
            role in (ColumnRole.AMOUNT, ColumnRole.MONEY_IN, ColumnRole.MONEY_OUT, ColumnRole.BALANCE)
            and values
            and amounts * 2 < len(values)
        ):
            roles[column] = (
                ColumnRole.TEXT if role is ColumnRole.MONEY_IN or role is ColumnRole.MONEY_OUT else ColumnRole.IGNORE
            )
        if role is ColumnRole.DATE and values and not any(_any_day(value) for value in values):
            roles[column] = ColumnRole.TEXT
        if (
            role is ColumnRole.MARKER
            and values
            and not all(value.lower() in _OUT_WORDS | _IN_WORDS for value in values)
        ):
            roles[column] = ColumnRole.TEXT
    for role in (
        ColumnRole.DATE,
        ColumnRole.VALUE_DATE,
        ColumnRole.AMOUNT,
        ColumnRole.MONEY_IN,
        ColumnRole.MONEY_OUT,
        ColumnRole.BALANCE,
        ColumnRole.ID,
    ):
        places = [n for n, found in enumerate(roles) if found is role]
        for extra in places[1:]:
            roles[extra] = (
                ColumnRole.VALUE_DATE
                if role is ColumnRole.DATE and ColumnRole.VALUE_DATE not in roles
                else ColumnRole.IGNORE
            )
    if ColumnRole.AMOUNT in roles and {ColumnRole.MONEY_IN, ColumnRole.MONEY_OUT} & set(roles):
        split = ColumnRole.MONEY_IN in roles and ColumnRole.MONEY_OUT in roles
        for column, role in enumerate(roles):
            if (split and role is ColumnRole.AMOUNT) or (
                not split and role in (ColumnRole.MONEY_IN, ColumnRole.MONEY_OUT)
            ):
                roles[column] = ColumnRole.IGNORE
    if ColumnRole.TEXT not in roles:
        loose = [
            n
            for n, role in enumerate(roles)
            if role is ColumnRole.IGNORE and any(re.search(r"[^\W\d_]", row.cell(n)) for row in sample)
        ]
        for column in loose[:1]:
            roles[column] = ColumnRole.TEXT
    return tuple(roles)


_DAY_LIKE = re.compile(r"(?<![\d.,])\d{1,2}[./-]\d{1,2}[./-]\d{2,4}(?![\d.,])", re.ASCII)


def _with_order(
    draft: Layout, dated: Sequence[GridRow], outside: Sequence[str]
) -> tuple[Layout, LayoutQuestion | None]:
    column = draft.column(ColumnRole.DATE)
    texts = [row.cell(-1 if column is None else column) for row in dated]
    fitting = [order for order in ("ymd", "dmy", "mdy") if all(read_day(text, order) for text in texts)]
    same = {tuple(read_day(text, order) for text in texts) for order in fitting}
    if len(same) == 1:
        return replace(draft, date_order=fitting[0]), None
    if not fitting:
        for order in ("dmy", "mdy"):
            bad = next(((row, text) for row, text in zip(dated, texts, strict=True) if not read_day(text, order)), None)
            if bad and sum(1 for text in texts if read_day(text, order)) * 2 > len(texts):
                name = column_name(draft.heading, column or 0)
                raise Unreadable("is no day of the calendar", line=bad[0].line, column=name, value=bad[1])
        raise Unreadable("the dates are not all written in one order", line=dated[0].line, value=texts[0])
    # Days around the table, as those of its period, are written as those inside it.
    around = [text for line in outside for text in _DAY_LIKE.findall(line)]
    telling_around = [order for order in fitting if around and all(read_day(text, order) for text in around)]
    if len(telling_around) == 1:
        return replace(draft, date_order=telling_around[0]), None
    # Statements run in order: where only one reading does so, that is it.
    running = [order for order in fitting if _runs([read_day(text, order) for text in texts])]
    if len(running) == 1 and len(set(texts)) > 2:
        return replace(draft, date_order=running[0]), None
    telling = next(text for text in texts if len({read_day(text, order) for order in fitting}) > 1)
    written = " or ".join(f"{read_day(telling, order):%B %-d}" for order in fitting)
    question = LayoutQuestion("date_order", f"Does {telling} mean {written}?", tuple(fitting))
    return replace(draft, date_order=fitting[0]), question


def _runs(days: Sequence[object]) -> bool:
    pairs = list(pairwise(days))
    return all(a <= b for a, b in pairs) or all(a >= b for a, b in pairs)  # type: ignore[operator]


def _money_columns(layout: Layout) -> list[int]:
    roles = (ColumnRole.AMOUNT, ColumnRole.MONEY_IN, ColumnRole.MONEY_OUT, ColumnRole.BALANCE)
    return [column for role in roles for column in layout.columns(role)]


def _with_decimal(draft: Layout, dated: Sequence[GridRow], of: Currency) -> tuple[Layout, LayoutQuestion | None]:
    """The decimal sign that the amounts vote for; one mark before three digits tells nothing ("1.234")."""
    cells = [
        (row, column, cell)
        for row in dated
        for column in _money_columns(draft)
        if (cell := row.cell(column)) and cell not in ("-", "--")
    ]
    votes = {sign: sum(tells(cell, of) == sign for _, _, cell in cells) for sign in ".,"}
    open_cell = next((cell for _, _, cell in cells if tells(cell, of) == "either"), None)
    if not any(votes.values()) and open_cell:
        proved = [sign for sign in ".," if breaks_of(dated, replace(draft, decimal=sign), of) == 0]
        if len(proved) == 1 and draft.columns(ColumnRole.BALANCE):
            return replace(draft, decimal=proved[0]), None
        text = f"Is {open_cell} more or less than a thousand?"
        return replace(draft, decimal=","), LayoutQuestion("decimal", text, (",", "."))
    layout = replace(draft, decimal="," if votes[","] > votes["."] else ".")
    for row, column, cell in cells:
        if read_amount(cell, layout.decimal, of) is None:
            what = f"is no amount in {of.code} with at most {of.digits} decimals, written as the others are"
            raise Unreadable(what, line=row.line, column=column_name(draft.heading, column), value=cell)
    return layout, None


def _with_sign(draft: Layout, dated: Sequence[GridRow], of: Currency) -> tuple[Layout, LayoutQuestion | None]:
    marker = draft.column(ColumnRole.MARKER)
    if draft.column(ColumnRole.AMOUNT) is None:
        return draft, None
    if marker is not None:
        words = {row.cell(marker) for row in dated}
        return replace(draft, out_words=tuple(sorted(w for w in words if w.lower() in _OUT_WORDS))), None
    if re.search(r"\b(owed|due)\b", column_name(draft.heading, draft.column(ColumnRole.BALANCE) or 0).lower()):
        draft = replace(draft, owed=True)
    amounts = [read_amount(row.cell(draft.column(ColumnRole.AMOUNT) or 0), draft.decimal, of) or 0 for row in dated]
    both_ways = any(a < 0 for a in amounts) and any(a > 0 for a in amounts)
    if draft.columns(ColumnRole.BALANCE):
        ways = [flip for flip in (False, True) if breaks_of(dated, replace(draft, flip=flip), of) == 0]
        if len(ways) == 1:
            return replace(draft, flip=ways[0]), None
    if both_ways or any(a < 0 for a in amounts):
        return draft, None
    return draft, LayoutQuestion("flip", "No amount has a sign. Is this money in or money out?", ("in", "out"))


def _by_footing(
    grid: Grid, draft: Layout, question: LayoutQuestion, of: Currency
) -> tuple[Layout, LayoutQuestion | None]:
    """Where opening and closing stand around the table, only one direction makes the one out of the other."""
    footing: list[bool] = []
    for flip in (False, True):
        read = read_grid(grid, replace(draft, flip=flip), of)
        if read.head.opening is None or read.head.closing is None:
            return draft, question
        if read.head.opening + sum(read.amounts) == read.head.closing:
            footing.append(flip)
    return (replace(draft, flip=footing[0]), None) if len(footing) == 1 else (draft, question)
