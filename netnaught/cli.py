"""The `netnaught` command: documented in docs/command-line.md, used by people, scripts and tests."""

from __future__ import annotations

import argparse
import csv
import getpass
import json
import os
import sys
import tomllib
from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path

from netnaught import __version__
from netnaught.core.money import Currency, MoneyError, currency, plain
from netnaught.core.statement import delivered, footing
from netnaught.core.wording import plain_wording
from netnaught.formats import Layout, ReadStatement, Unreadable, read_statements, read_with_layout
from netnaught.services import headless, setup, verifying
from netnaught.services.access import Role
from netnaught.services.errors import BadInput, ServiceError
from netnaught.store.database import DATABASE, Connection, backup, connect, migrate

OK, WORK_REMAINS, BAD_INPUT = 0, 1, 2
DEFAULT_DATA = Path("data") / "books"
DEMO_DATA = Path("data") / "demo"
BANK_FILE = "bank.json"


def _fail(message: str) -> int:
    print(" ".join(message.split()), file=sys.stderr)
    return BAD_INPUT


def _bytes_of(path: str) -> bytes:
    try:
        return Path(path).read_bytes()
    except OSError as error:
        raise BadInput(f"{path}: {error.strerror or error}") from None


def _database(data: Path) -> Connection:
    if not (data / DATABASE).exists():
        raise BadInput(f"{data}: there are no books in this directory")
    db = connect(data / DATABASE)
    migrate(db)
    return db


# read ---------------------------------------------------------------------------------------------


def _statement_json(read: ReadStatement, joined: headless.Joined, default: str) -> dict[str, object]:
    of = currency(read.currency or default)
    sums = delivered(read.amounts)
    judged, say = footing(read.head, sums), plain_wording(of)

    def money(amount: int | None) -> str | None:
        return None if amount is None else plain(amount, of)

    return {
        "format": read.format,
        "bank": read.bank or None,
        "account": read.account or None,
        "currency": read.currency,
        "start": read.head.start.isoformat(),
        "end": read.head.end.isoformat(),
        "opening": money(read.head.opening),
        "closing": money(read.head.closing),
        "total_in": plain(sums.came_in.total, of),
        "total_out": plain(sums.went_out.total, of),
        "foots": judged.foots,
        "continues": joined.continues,
        "joins": [notice.sentence(say) for notice in joined.notices],
        "lines": [
            {
                "id": str(item.line.id),
                "date": item.line.date.isoformat(),
                "value_date": item.line.value_date.isoformat() if item.line.value_date else None,
                "amount": plain(item.line.amount, of),
                "reference": item.line.reference,
                "description": item.line.description,
                "kind": item.line.kind.value,
            }
            for item in read.lines
        ],
        "problems": [{"where": p.where, "what": p.what} for p in read.problems],
    }


def _layout_of(path: str) -> Layout:
    try:
        return Layout.of_values(tomllib.loads(_bytes_of(path).decode()))
    except (UnicodeDecodeError, tomllib.TOMLDecodeError) as error:
        raise BadInput(f"{path}: {error}") from None
    except Unreadable as error:
        raise BadInput(error.sentence(path)) from None


def _statements_of(path: str, layout: Layout | None, of: Currency) -> tuple[ReadStatement, ...]:
    data = _bytes_of(path)
    try:
        return (read_with_layout(data, layout, of),) if layout else read_statements(data, of)
    except Unreadable as error:
        raise BadInput(error.sentence(path)) from None


def _read(args: argparse.Namespace) -> int:
    layout = _layout_of(args.layout) if args.layout else None
    try:
        of = currency(args.currency)
        found = _statements_of(args.file, layout, of)
        earlier = _statements_of(args.after, layout, of) if args.after else ()
    except MoneyError as error:
        return _fail(str(error))
    joined = headless.joins(found, earlier)
    statements = [_statement_json(read, join, args.currency) for read, join in zip(found, joined, strict=True)]
    if args.form == "json":
        json.dump({"statements": statements}, sys.stdout, ensure_ascii=False, indent=1)
        print()
    else:
        writer = csv.writer(sys.stdout, lineterminator="\n")
        writer.writerow(("id", "date", "reference", "description", "amount"))
        for read in found:
            of = currency(read.currency or args.currency)
            for item in read.lines:
                line = item.line
                writer.writerow((line.id, line.date, line.reference, line.description, plain(line.amount, of)))
    wrong = any(s["foots"] is False or s["problems"] for s in statements)
    wrong = wrong or (bool(args.after) and any(join.continues is False for join in joined))
    return WORK_REMAINS if wrong else OK


# reconcile ----------------------------------------------------------------------------------------


def _reconcile(args: argparse.Namespace) -> int:
    stated = headless.setup_of(args.setup, _bytes_of(args.setup)) if args.setup else None
    found = headless.reconcile_files(
        (args.statement, _bytes_of(args.statement)),
        (args.book, _bytes_of(args.book)),
        opening=args.opening,
        closing=args.closing,
        account=args.account,
        code=args.currency,
        setup=stated,
    )
    result = json.dumps(headless.as_json(found), ensure_ascii=False, indent=1)
    if args.json and args.json != "-":
        try:
            Path(args.json).write_text(result + "\n")
        except OSError as error:
            return _fail(f"{args.json}: {error.strerror or error}")
    else:
        print(result)
    return OK if found.done else WORK_REMAINS


# demo, serve --------------------------------------------------------------------------------------


def _run_server(data: Path, host: str, port: int) -> int:
    import uvicorn

    from netnaught.api.app import create_app

    app = create_app(data)
    _print_verified(data)
    uvicorn.run(app, host=host, port=port, log_level="warning", server_header=False)
    return OK


def _print_verified(data: Path) -> verifying.Verification:
    """Walk everything sealed and say what was found."""
    db = _database(data)
    try:
        found = verifying.verify(db)
    finally:
        db.close()
    for finding in found.findings:
        print(f"{'TAMPERING' if finding.tampering else 'disturbed'}  {finding.where}: {finding.what}")
    print(f"{found.seals} seals of {found.accounts} accounts walked, {len(found.findings)} findings", flush=True)
    return found


def _serve(args: argparse.Namespace) -> int:
    print(f"Net Naught on http://{args.host}:{args.port}", flush=True)
    return _run_server(args.data, args.host, args.port)


def _demo(args: argparse.Namespace) -> int:
    from netnaught.demo import DEMO_PASSWORD, DEMO_USERS, build_demo
    from netnaught.demo.build import NotADemo

    bank_port = args.bank_port or args.port + 1
    bank_address = f"http://{args.host}:{bank_port}"
    try:
        files = build_demo(args.data, bank_address)
    except NotADemo as error:
        return _fail(str(error))
    print(f"Net Naught demo on http://{args.host}:{args.port}")
    for email, name, role in DEMO_USERS:
        print(f"  sign in as {email}  ({name}, {role})")
    print(f"  password   {DEMO_PASSWORD}")
    print(f"  files to read in: {files}")
    print(f"  stand-in bank on {bank_address}", flush=True)
    if args.build_only:
        return OK
    _serve_bank(args.data / BANK_FILE, args.host, bank_port, wait=False)
    return _run_server(args.data, args.host, args.port)


def _serve_bank(file: Path, host: str, port: int, *, wait: bool) -> int:
    import threading

    import uvicorn

    from netnaught.standins.bank import create_bank, load_books

    if not file.exists():
        raise BadInput(f"{file}: there is no bank to serve; `netnaught demo` makes one")
    run = uvicorn.Server(uvicorn.Config(create_bank(load_books(file)), host=host, port=port, log_level="warning")).run
    if wait:
        run()
    else:
        threading.Thread(target=run, daemon=True).start()
    return OK


def _bank(args: argparse.Namespace) -> int:
    print(f"Stand-in bank on http://{args.host}:{args.port}", flush=True)
    return _serve_bank(args.data / BANK_FILE, args.host, args.port, wait=True)


# upkeep -------------------------------------------------------------------------------------------


def _verify(args: argparse.Namespace) -> int:
    return WORK_REMAINS if _print_verified(args.data).findings else OK


def _backup(args: argparse.Namespace) -> int:
    target = Path(args.target)
    if target.exists():
        return _fail(f"{target}: the file exists already; nothing was written")
    backup(_database(args.data), target)
    print(f"backed up to {target}")
    return OK


def _user_add(args: argparse.Namespace) -> int:
    if not args.password_stdin and not sys.stdin.isatty():
        return _fail("there is no terminal to ask for the password: give it on standard input, with --password-stdin")
    args.data.mkdir(parents=True, exist_ok=True)
    db = connect(args.data / DATABASE)
    migrate(db)
    password = sys.stdin.readline().rstrip("\n") if args.password_stdin else getpass.getpass("Password: ")
    now = datetime.now(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")
    if args.found_company:
        setup.found_company(db, args.company, args.currency, args.locale, now)
    user = setup.add_user(db, args.email, args.name, password, now)
    setup.give_role(db, args.company, user, Role(args.role))
    print(f"{args.name} may sign in as {args.email}: {args.role} of {args.company}")
    return OK


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="netnaught", description="Bank accounts reconciled to a difference of exactly zero."
    )
    parser.add_argument("--version", action="version", version=f"netnaught {__version__}")
    commands = parser.add_subparsers(required=True, metavar="command")

    def command(name: str, run: object, about: str) -> argparse.ArgumentParser:
        found = commands.add_parser(name, help=about, description=about)
        found.set_defaults(run=run)
        return found

    def served(found: argparse.ArgumentParser, data: Path) -> None:
        found.add_argument("--data", type=Path, default=data, help=f"directory of the books (default {data})")
        found.add_argument("--host", default="127.0.0.1", help="address to listen on (default 127.0.0.1)")
        found.add_argument("--port", type=int, default=int(os.environ.get("PORT", "8026")), help="port (default 8026)")

    demo = command("demo", _demo, "Build the demo data afresh and serve it.")
    served(demo, DEMO_DATA)
    demo.add_argument("--bank-port", type=int, help="port of the stand-in bank (default: the port after)")
    demo.add_argument("--build-only", action="store_true", help="build the data and stop")
    served(command("serve", _serve, "Serve the books in a directory."), DEFAULT_DATA)

    served(command("bank", _bank, "Serve the stand-in bank of a demo by itself."), DEMO_DATA)

    read = command("read", _read, "Read a statement file and say what is in it.")
    read.add_argument("file")
    read.add_argument("--layout", metavar="LAYOUT.toml", help="how a delimited, XLSX or PDF table is read")
    read.add_argument("--after", metavar="EARLIER", help="the statement file before it, which it has to continue")
    read.add_argument("--as", dest="form", choices=("json", "csv"), default="json", help="form of the output")
    read.add_argument("--currency", default="USD", help="currency of formats that state none (default USD)")

    rec = command("reconcile", _reconcile, "Reconcile a statement with a bank book, without a database.")
    rec.add_argument("--statement", required=True, metavar="FILE")
    rec.add_argument("--book", required=True, metavar="BOOK.csv")
    rec.add_argument("--opening", help="opening balance, where the file states none")
    rec.add_argument("--closing", help="closing balance, where the file states none")
    rec.add_argument("--account", help="which account, where the file holds several")
    rec.add_argument("--currency", default="USD", help="currency of formats that state none (default USD)")
    rec.add_argument("--setup", metavar="SETUP.toml", help="passes with their windows, composed passes, readers")
    rec.add_argument("--json", metavar="OUT", help="write the result to a file instead of standard output")

    user = commands.add_parser("user", help="People who sign in.").add_subparsers(required=True, metavar="command")
    add = user.add_parser("add", help="Add a person to a company.")
    add.set_defaults(run=_user_add)
    add.add_argument("--data", type=Path, default=DEFAULT_DATA)
    add.add_argument("--email", required=True)
    add.add_argument("--name", required=True)
    add.add_argument("--company", required=True)
    add.add_argument("--role", choices=[role.value for role in Role], default=Role.PREPARER.value)
    add.add_argument("--found-company", action="store_true", help="create the company as well")
    add.add_argument("--currency", default="USD", help="its base currency")
    add.add_argument("--locale", default="en_US", help="how its people write numbers and dates")
    add.add_argument("--password-stdin", action="store_true", help="read the password from standard input")

    for name, run, about in (
        ("verify", _verify, "Walk every seal chain, sealed paper and the audit trail."),
        ("backup", _backup, "Copy the whole database to one file, while it is in use."),
    ):
        found = command(name, run, about)
        found.add_argument("--data", type=Path, default=DEFAULT_DATA, help=f"directory (default {DEFAULT_DATA})")
        if name == "backup":
            found.add_argument("target", metavar="FILE")
    return parser


def main(argv: Sequence[str] | None = None) -> int:
    """Run a command; returns its exit code."""
    args = _parser().parse_args(argv)
    try:
        code: int = args.run(args)
        return code
    except ServiceError as error:
        return _fail(error.message)


if __name__ == "__main__":
    sys.exit(main())
