"""The public command line: what it prints, what it refuses, how it exits."""

from __future__ import annotations

import contextlib
import io
import json
import shutil
import socket
import subprocess
import sys
import time
import urllib.request
from collections import Counter
from pathlib import Path

import pytest

from netnaught.cli import main
from netnaught.demo import build_demo
from netnaught.services import deciding, reading, spine
from netnaught.services.access import Context
from netnaught.store import users
from netnaught.store.database import DATABASE, connect
from tests.world import NOW

BOOK = "id,date,reference,payee,memo,amount\nB1,2026-10-02,17,A,,-5.00\nB2,2026-10-03,,B,,7.00\n"
STATEMENT = "id,date,reference,description,amount\n,2026-10-05,0017,CHECK,-5.00\n,2026-10-06,,FEE,-1.00\n"


@pytest.fixture
def files(tmp_path: Path) -> tuple[str, str]:
    (tmp_path / "book.csv").write_text(BOOK)
    (tmp_path / "statement.csv").write_text(STATEMENT)
    return str(tmp_path / "statement.csv"), str(tmp_path / "book.csv")


def test_reconcile_puts_every_item_in_one_place(files: tuple[str, str], tmp_path: Path) -> None:
    out = tmp_path / "out.json"
    code = main(["reconcile", "--statement", files[0], "--book", files[1], "--opening", "10.00", "--json", str(out)])
    found = json.loads(out.read_text())
    assert code == 1
    figures = [found[name] for name in ("opening", "closing", "cleared", "difference", "unmatched_total")]
    assert figures == ["10.00", "4.00", "-5.00", "-1.00", "-1.00"]
    assert found["matches"][0]["statement"] == ["L1"]
    assert found["unmatched"] == {"statement": ["L2"], "book": ["B2"]}


def test_reconcile_exits_0_at_zero(files: tuple[str, str], tmp_path: Path) -> None:
    (tmp_path / "statement.csv").write_text("\n".join(STATEMENT.splitlines()[:2]) + "\n")
    assert main(["reconcile", "--statement", files[0], "--book", files[1], "--closing", "5.00"]) == 0


@pytest.mark.parametrize(
    ("extra", "book", "message"),
    [
        (["--opening", "1.234"], BOOK, "--opening: '1.234' has more than the 2 decimals"),
        ([], BOOK.replace("7.00", "7,00"), "book.csv, line 3"),
        ([], BOOK.replace("7.00", "x"), "line 3, column amount: 'x': is no amount"),
        (["--currency", "DOLLARS"], BOOK, "'DOLLARS' is no ISO 4217 currency"),
        (["--setup", "nowhere.toml"], BOOK, "nowhere.toml: No such file"),
    ],
)
def test_bad_input_is_one_line_on_stderr_and_exit_2(
    files: tuple[str, str],
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
    extra: list[str],
    book: str,
    message: str,
) -> None:
    (tmp_path / "book.csv").write_text(book)
    assert main(["reconcile", "--statement", files[0], "--book", files[1], *extra]) == 2
    printed = capsys.readouterr()
    assert message in printed.err
    assert (printed.err.count("\n"), printed.out) == (1, "")


def test_setup_narrows_a_pass(files: tuple[str, str], tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    setup = tmp_path / "setup.toml"
    setup.write_text('[[pass]]\nname = "reference and amount"\nbefore = 1\nafter = 0\n')
    main(["reconcile", "--statement", files[0], "--book", files[1], "--setup", str(setup)])
    assert json.loads(capsys.readouterr().out)["matches"] == []
    setup.write_text('[[pass]]\nname = "luck"\n')
    assert main(["reconcile", "--statement", files[0], "--book", files[1], "--setup", str(setup)]) == 2


def test_read_prints_statements_and_exits_by_what_it_found(
    files: tuple[str, str], tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["read", files[0]]) == 0
    (found,) = json.loads(capsys.readouterr().out)["statements"]
    assert (found["format"], found["foots"], found["opening"]) == ("csv", None, None)
    assert found["lines"][0] | {"reference": "0017", "amount": "-5.00", "id": "L1"} == found["lines"][0]
    assert main(["read", files[0], "--as", "csv"]) == 0
    assert capsys.readouterr().out.splitlines()[1] == "L1,2026-10-05,0017,CHECK,-5.00"
    (tmp_path / "bad.ofx").write_bytes(b"OFXHEADER:100\n<OFX><BANK")
    assert main(["read", str(tmp_path / "bad.ofx")]) == 2
    assert "bad.ofx, line 2" in capsys.readouterr().err


def test_users_backup_and_verify(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    data = ["--data", str(tmp_path / "books")]
    person = ["--email", "a@b.example", "--name", "A", "--company", "Co", "--password-stdin"]
    monkeypatch.setattr("sys.stdin", io.StringIO("long-enough-password\n"))
    assert main(["user", "add", *data, *person, "--found-company", "--role", "owner"]) == 0
    monkeypatch.setattr("sys.stdin", io.StringIO("short\n"))
    assert main(["user", "add", *data, *person]) == 2
    assert "at least 10 characters" in capsys.readouterr().err
    assert main(["verify", *data]) == 0
    assert main(["backup", *data, str(tmp_path / "copy.sqlite3")]) == 0
    assert main(["backup", *data, str(tmp_path / "copy.sqlite3")]) == 2
    assert main(["verify", "--data", str(tmp_path / "nowhere")]) == 2


def test_reconcile_of_the_demo_month_agrees_with_the_screen(built_demo: Path, tmp_path: Path) -> None:
    folder = built_demo / "files"
    shutil.copy(built_demo / DATABASE, tmp_path / DATABASE)
    db = connect(tmp_path / DATABASE)
    user = users.user_by_email(db, "iris.hale@skerryline.example")
    assert user
    ctx, statement = Context(db, user, NOW), folder / "lantern-mutual-2026-10.ofx"
    at = reading.store_file(ctx, 1, 1, statement.name, statement.read_bytes())
    deciding.apply_passes(ctx, 1, at, frozenset())
    view = spine.view(ctx, 1, at)
    out = tmp_path / "out.json"
    book = str(folder / "operating-book-2026-10.csv")
    assert main(["reconcile", "--statement", str(statement), "--book", book, "--json", str(out)]) == 1
    found = json.loads(out.read_text())
    assert found["difference"] == f"{(view.bench.standing.difference or 0) / 100:.2f}"
    by = Counter(m["pass"] for m in found["matches"]) + Counter(washes=len(found["washes"]))
    assert by == Counter(d.by for d in view.bench.decisions)
    db.close()


def contents(folder: Path) -> dict[str, bytes]:
    """Every file of a folder; workbooks carry the time of their making and are left out."""
    return {f.name: f.read_bytes() for f in folder.rglob("*.*") if f.is_file() and f.suffix != ".xlsx"}


def test_the_demo_is_the_same_every_time_and_spares_real_books(built_demo: Path, tmp_path: Path) -> None:
    one, two = built_demo / "files", build_demo(tmp_path / "a")
    assert contents(one) == contents(two)
    (tmp_path / "a" / "DEMO").unlink()
    assert main(["demo", "--data", str(tmp_path / "a"), "--build-only"]) == 2


SETUP = """
[[pass]]
name = "groups"

[[composed]]
title = "Ends in ours"
reference = "one ends in the other"

[[reader]]
examples = [["PAPER 900017 X", "0017"], ["PAPER 900555 X", "0555"]]
"""


@pytest.mark.parametrize(
    ("changed", "message"),
    [
        (("one ends in the other", "alike"), "composed 1: A composed pass cannot be used: 'alike' is not a valid"),
        (('"0017"]', '"18"]'), "reader 1: '18' does not stand in 'PAPER 900017 X'"),
        (('"groups"', '"composed"'), "pass 1 is none of: reference and amount"),
        (("[[reader]]", "[reader]"), "reader is written as [[reader]]"),
    ],
)
def test_a_setup_states_composed_passes_and_readers_and_what_is_wrong_with_them(
    files: tuple[str, str], tmp_path: Path, capsys: pytest.CaptureFixture[str], changed: tuple[str, str], message: str
) -> None:
    statement, book, setup = tmp_path / "statement.csv", tmp_path / "book.csv", tmp_path / "SETUP.toml"
    head = "id,date,reference,description,amount\n"
    statement.write_text(f"{head}A,2026-10-05,,PAPER 900017 X,-5.00\nB,2026-10-06,771234,SLIP,7.00\n")
    book.write_text("id,date,reference,payee,memo,amount\nB1,2026-09-02,17,A,,-5.00\nB2,2026-10-03,1234,B,,7.00\n")
    setup.write_text(SETUP.replace('name = "groups"', 'name = "reference and amount"'))
    arguments = ["reconcile", "--statement", str(statement), "--book", str(book), "--setup", str(setup)]
    assert main(arguments) == 0
    found = json.loads(capsys.readouterr().out)
    assert [(m["statement"], m["book"], m["pass"]) for m in found["matches"]] == [
        (["A"], ["B1"], "reference and amount"),
        (["B"], ["B2"], "composed"),
    ]
    setup.write_text(SETUP.replace(*changed))
    assert main(arguments) == 2
    assert message in capsys.readouterr().err


def _mt940_month(month: int, opening: str, line: str, closing: str) -> str:
    """A month in the smallest MT940 text: opening, one line, closing."""
    day = f"26{month:02d}"
    return (
        f":20:M{month}\n:25:LANTERN/4417\n:28C:{month}/1\n:60F:C{day}01USD{opening}\n"
        f":61:{day}15{month:02d}15C{line}NTRFREF{month}//B{month}\n:86:TRANSFER\n:62F:C{day}28USD{closing}\n-\n"
    )


@pytest.mark.parametrize(
    ("opening", "closing", "code", "continues", "joins"),
    [
        ("110,00", "115,00", 0, True, []),
        (
            "111,00",
            "116,00",
            1,
            False,
            [
                "The statement 2026-02-15 to 2026-02-28 opens at 111.00, the closing before it is 110.00: "
                "a bank gap of 1.00."
            ],
        ),
    ],
)
def test_read_says_whether_a_statement_continues_the_one_before(
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
    opening: str,
    closing: str,
    code: int,
    continues: bool,
    joins: list[str],
) -> None:
    def read(*arguments: str) -> tuple[int, list[tuple[object, object]]]:
        code = main(["read", *(str(tmp_path / name) if name[0] != "-" else name for name in arguments)])
        return code, [(s["continues"], s["joins"]) for s in json.loads(capsys.readouterr().out)["statements"]]

    january, february = _mt940_month(1, "100,00", "10,00", "110,00"), _mt940_month(2, opening, "5,00", closing)
    (tmp_path / "january").write_text(january)
    (tmp_path / "february").write_text(february)
    (tmp_path / "both").write_text(january + february)
    assert read("february", "--after", "january") == (code, [(continues, joins)])
    assert read("february") == (0, [(None, [])])  # alone, nothing went before it
    assert read("both") == (0, [(None, []), (continues, joins)])


def served(data: Path, wait_for: str) -> str:
    """What `serve` prints from its start until it answers."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    command = [sys.executable, "-m", "netnaught.cli", "serve", "--data", str(data), "--port", str(port)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as server:
        try:
            assert server.stdout
            told = ""
            for row in server.stdout:
                told += row
                if wait_for in row:
                    break
            for _ in range(100):
                with contextlib.suppress(OSError), urllib.request.urlopen(f"http://127.0.0.1:{port}/") as answer:
                    assert answer.status == 200
                    return told
                time.sleep(0.05)
            raise AssertionError("it never answered")
        finally:
            server.kill()


def test_the_server_tells_at_its_start_what_was_altered_behind_it_and_serves_all_the_same(
    built_demo: Path, tmp_path: Path
) -> None:
    shutil.copy(built_demo / DATABASE, tmp_path / DATABASE)
    db = connect(tmp_path / DATABASE)
    entry = db.execute("SELECT e.id FROM book_entry e WHERE e.bank_account_id = 1 AND e.amount < 0 LIMIT 1").fetchone()[
        0
    ]
    db.execute("UPDATE book_entry SET payee = 'Somebody else' WHERE id = ?", (entry,))
    db.commit()
    db.close()
    told = served(tmp_path, "seals of")
    assert "disturbed  Skerry Line, Payroll account, seal 5" in told
    assert (
        f"TAMPERING  Skerry Line, Operating account, seal 1, table book_entry, row {entry}: relabelled (payee)" in told
    )
    assert main(["verify", "--data", str(tmp_path)]) == 1


@pytest.mark.parametrize(
    ("arguments", "what"),
    [
        (["read", "no-such-file.ofx"], "no-such-file.ofx"),
        (["read", "{statement}", "--currency", "XXQ"], "XXQ"),
        (["read", "{statement}", "--layout", "{book}"], "book.csv"),
        (
            ["reconcile", "--statement", "{statement}", "--book", "{book}", "--json", "/no/such/place.json"],
            "/no/such/place",
        ),
        (["bank", "--data", "{folder}"], "there is no bank to serve"),
        (["user", "add", "--data", "{folder}", "--email", "x", "--name", "X", "--company", "Co"], "--password-stdin"),
    ],
)
def test_what_cannot_be_done_is_one_line_and_exit_2(
    files: tuple[str, str], tmp_path: Path, capsys: pytest.CaptureFixture[str], arguments: list[str], what: str
) -> None:
    statement, book = files
    given = [a.format(statement=statement, book=book, folder=tmp_path) for a in arguments]
    try:
        code = main(given)
    except SystemExit as stopped:
        code = int(stopped.code or 0)
    told = capsys.readouterr().err
    assert code == 2
    assert what in told
    assert "Traceback" not in told
