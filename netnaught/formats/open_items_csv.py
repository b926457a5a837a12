"""The documented table of open items: `id,kind,party,number,date,due,amount,currency`."""

from __future__ import annotations

from netnaught.core.money import Currency
from netnaught.core.settling import ItemKind, OpenItem
from netnaught.formats.reading import Unreadable, iso_date, table_amount
from netnaught.formats.table import decode, table_rows

OPEN_ITEM_COLUMNS = ("id", "kind", "party", "number", "date", "due", "amount", "currency")


def read_open_items(data: bytes, of: Currency) -> tuple[tuple[str, OpenItem], ...]:
    """Each item with its id in the file. Unreadable names line and column; ids are required and unique."""
    found: list[tuple[str, OpenItem]] = []
    seen: dict[str, int] = {}
    for row in table_rows(decode(data), OPEN_ITEM_COLUMNS):
        ident = row.fields["id"].strip()
        if not ident or ident in seen:
            what = f"stands on line {seen[ident]} too" if ident else "is empty"
            raise Unreadable(f"the id {what}", line=row.line, column="id", value=ident)
        seen[ident] = row.line
        said = row.fields["kind"].strip().lower()
        if said not in set(ItemKind):
            raise Unreadable("is neither invoice nor bill", line=row.line, column="kind", value=said)
        code = row.fields["currency"].strip() or of.code
        if code != of.code:
            raise Unreadable(f"is another currency than {of.code}", line=row.line, column="currency", value=code)
        amount = table_amount(row.fields["amount"], of, line=row.line, column="amount")
        if amount <= 0:
            raise Unreadable("is not above zero", line=row.line, column="amount", value=row.fields["amount"])
        if not row.fields["number"].strip():
            raise Unreadable("the item has no number", line=row.line, column="number")
        issued = iso_date(row.fields["date"], line=row.line, column="date")
        due = iso_date(row.fields["due"] or row.fields["date"], line=row.line, column="due")
        item = OpenItem(
            0, ItemKind(said), row.fields["party"].strip(), row.fields["number"].strip(), issued, due, amount, amount
        )
        found.append((ident, item))
    if not found:
        raise Unreadable("the table has no items", line=1)
    return tuple(found)
