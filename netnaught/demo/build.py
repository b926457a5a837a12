"""Building the demo with the product's own use cases: months are read, matched and sealed, not faked."""

from __future__ import annotations

import shutil
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

from netnaught.core.ledger import AccountKind
from netnaught.demo.accounts import (
    build_canadian,
    build_card_clearing,
    build_cash_box,
    build_fuel_card,
    build_payroll,
    build_trust,
)
from netnaught.demo.coding import build_coding, build_open_items
from netnaught.demo.disturbing import disturb, leave_fresh_export
from netnaught.demo.operating import build_operating
from netnaught.demo.stage import BANK_FILE, stage_of
from netnaught.services import reviewing, setup
from netnaught.services.access import Context, Right, Role
from netnaught.store import companies, connections
from netnaught.store.database import DATABASE, Connection, atomic, connect, migrate

DEMO_PASSWORD = "quiet-harbor-26"  # noqa: S105  printed for everyone who runs the demo
DEMO_USERS = (
    ("iris.hale@skerryline.example", "Iris Hale", Role.OWNER),
    ("tam.rowe@skerryline.example", "Tam Rowe", Role.PREPARER),
    ("rae.quill@skerryline.example", "Rae Quill", Role.REVIEWER),
    ("vera.lund@skerryline.example", "Vera Lund", Role.VIEWER),
)
MARKER = "DEMO"
CHART = (
    ("1010", "Operating account", AccountKind.ASSET),
    ("1020", "Payroll account", AccountKind.ASSET),
    ("1025", "Transfers between accounts", AccountKind.ASSET),
    ("1030", "Ticket-card clearing", AccountKind.ASSET),
    ("1035", "Card takings on their way", AccountKind.ASSET),
    ("1040", "Quay cash box", AccountKind.ASSET),
    ("1050", "Canadian-dollar account", AccountKind.ASSET),
    ("1090", "Suspense", AccountKind.ASSET),
    ("1200", "Receivables", AccountKind.ASSET),
    ("2010", "Fuel card", AccountKind.LIABILITY),
    ("2100", "Payables", AccountKind.LIABILITY),
    ("2200", "Sales tax", AccountKind.LIABILITY),
    ("3000", "Owners' equity", AccountKind.EQUITY),
    ("4100", "Fares", AccountKind.INCOME),
    ("4200", "Charters", AccountKind.INCOME),
    ("4300", "Freight", AccountKind.INCOME),
    ("4900", "Interest received", AccountKind.INCOME),
    ("5100", "Fuel", AccountKind.EXPENSE),
    ("5200", "Harbor dues", AccountKind.EXPENSE),
    ("5210", "Slip repairs", AccountKind.EXPENSE),
    ("5300", "Galley and crew", AccountKind.EXPENSE),
    ("5350", "Crew pay", AccountKind.EXPENSE),
    ("5400", "Office and utilities", AccountKind.EXPENSE),
    ("5500", "Insurance", AccountKind.EXPENSE),
    ("5900", "Bank charges", AccountKind.EXPENSE),
)
TRUST_CHART = (
    ("1010", "Checking account", AccountKind.ASSET),
    ("3000", "Trust funds", AccountKind.EQUITY),
    ("4100", "Visitor tickets", AccountKind.INCOME),
    ("4200", "Grants", AccountKind.INCOME),
    ("5100", "Dome upkeep", AccountKind.EXPENSE),
    ("5900", "Bank charges", AccountKind.EXPENSE),
)


class NotADemo(RuntimeError):
    """The directory holds a database that is not a demo: it is left alone."""


def build_demo(data: Path, bank_address: str = "http://127.0.0.1:8027") -> Path:
    """Build the demo afresh in a directory; returns the folder with the files to read in.

    `bank_address`: where the stand-in bank will be served.

    NotADemo when the directory holds a database that this did not build.
    """
    if (data / DATABASE).exists() and not (data / MARKER).exists():
        raise NotADemo(f"{data / DATABASE} is no demo; it is left as it is")
    for old in data.glob(f"{DATABASE}*"):
        old.unlink()
    shutil.rmtree(data / "files", ignore_errors=True)
    (data / BANK_FILE).unlink(missing_ok=True)
    files = data / "files"
    files.mkdir(parents=True)
    (data / MARKER).write_text("This directory is built afresh by `netnaught demo`.\n")
    db = connect(data / DATABASE)
    try:
        migrate(db)
        with atomic(db):
            _build(db, files, bank_address)
    finally:
        db.close()
    return files


def _build(db: Connection, files: Path, bank_address: str) -> None:
    began = datetime(2026, 3, 31, 9, 0, tzinfo=UTC)
    stamp = began.isoformat(timespec="seconds").replace("+00:00", "Z")
    people = [setup.add_user(db, email, name, DEMO_PASSWORD, stamp) for email, name, _ in DEMO_USERS]
    skerry = setup.found_company(db, "Skerry Line", "USD", "en_US", stamp)
    trust = setup.found_company(db, "Fernhollow Observatory Trust", "USD", "en_US", stamp)
    for user, (_, _, role) in zip(people, DEMO_USERS, strict=True):
        companies.set_role(db, skerry.id, user.id, role)
    for person, role in ((people[0], Role.OWNER), (people[1], Role.PREPARER), (people[2], Role.REVIEWER)):
        companies.set_role(db, trust.id, person.id, role)
    ctx = Context(db, people[0], began)
    stage = stage_of(ctx, skerry, CHART)
    build_coding(stage)
    build_open_items(stage, files)
    operating = build_operating(stage, files)
    build_cash_box(stage_of(ctx, skerry, ()))
    payroll = build_payroll(stage_of(ctx, skerry, ()), files)
    for account, remote in ((operating, "operating"), (payroll, "payroll")):
        connections.connect_account(db, skerry.id, account.id, bank_address, remote, people[0].id, stamp)
    build_card_clearing(stage_of(ctx, skerry, ()), files)
    build_fuel_card(stage_of(ctx, skerry, ()), files)
    build_canadian(stage_of(ctx, skerry, ()), files)
    build_trust(stage_of(ctx, trust, TRUST_CHART), files)
    for company, person in ((skerry, people[1]), (trust, people[1])):
        companies.switch_right(db, company.id, person.id, Right.ALTER, True)
    tam = replace(ctx, user=people[1])
    disturb(tam, skerry, trust)
    leave_fresh_export(ctx, skerry, files)
    reviewing.set_review(ctx, trust.id, True)
