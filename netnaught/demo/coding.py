"""What Skerry Line codes with, and what it owes and is owed."""

from __future__ import annotations

from pathlib import Path

from netnaught.core.settling import ItemKind
from netnaught.demo.stage import Stage
from netnaught.services import coding, open_items
from netnaught.store.coding import Party

OPEN_ITEMS = """id,kind,party,number,date,due,amount,currency
B-901,bill,Reef Stores,RS-2207,2026-09-14,2026-10-14,412.60,USD
B-902,bill,Reef Stores,RS-2231,2026-09-21,2026-10-21,188.15,USD
B-903,bill,Reef Stores,RS-2254,2026-09-28,2026-10-28,96.40,USD
B-904,bill,Coble Yard Slip,CY-88,2026-10-20,2026-11-19,2480.00,USD
I-311,invoice,Turnstone Lodge,SL-1047,2026-10-02,2026-11-01,640.00,USD
I-312,invoice,Eider Tours,SL-1051,2026-10-18,2026-11-17,1320.00,USD
"""


def build_coding(stage: Stage) -> None:
    """What Skerry Line codes with: departments, a tax, parties with their usual account, two rules."""
    args = (stage.ctx, stage.company.id)
    departments = {name: coding.add_department(*args, name) for name in ("Ferries", "Workboat", "Office")}
    coding.add_tax_code(*args, "ST", 62_500, stage.gl["2200"])
    for name, number, department in (
        ("Gannet Fuel Dock", "5100", "Ferries"),
        ("Coble Yard Slip", "5210", "Ferries"),
        ("Marram Stationery", "5400", "Office"),
    ):
        coding.write_party(*args, Party(0, name, stage.gl[number], None, departments[department]))
    for name, text, number, department, at_once in (
        ("Sent back by the cardholder", "sent back", "4100", "Ferries", False),
        ("Late fee of the card", "late fee", "5900", "Workboat", True),
    ):
        share = {"gl_account_id": stage.gl[number], "department_id": departments[department]}
        coding.add_rule(*args, {"name": name, "text": text, "at_once": at_once, "shares": [share]})


def build_open_items(stage: Stage, files: Path) -> None:
    """Unpaid invoices and bills; October's card statement pays three bills at once, short by a fee."""
    (files / "open-items.csv").write_text(OPEN_ITEMS)
    accounts: dict[ItemKind, int | None] = {
        ItemKind.INVOICE: stage.gl["1200"],
        ItemKind.BILL: stage.gl["2100"],
    }
    open_items.import_items(stage.ctx, stage.company.id, "open-items.csv", OPEN_ITEMS.encode(), accounts)
