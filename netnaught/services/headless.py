"""One reconciliation from two files, without a database: what `netnaught reconcile` does."""

from __future__ import annotations

import tomllib
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from netnaught.core.clues import Clue, Puzzle, find_clues
from netnaught.core.ledger import BookEntry
from netnaught.core.matching import (
    DEFAULT_PASSES,
    NOTHING_TAUGHT,
    Example,
    NoRule,
    OpenItems,
    Outcome,
    Pass,
    Reader,
    Side,
    Taught,
    TextOf,
    Window,
    learn,
    run_passes,
    window_of,
    with_window,
)
from netnaught.core.money import Currency, MoneyError, currency, parse_plain, plain
from netnaught.core.statement import Join, LineKind, Notice, StatementLine, continuity, delivered, footing, opening_of
from netnaught.core.wording import plain_wording
from netnaught.formats import ReadStatement, Unreadable, read_bank_book, read_statements
from netnaught.services.errors import BadInput
from netnaught.services.passes import composed_of

Json = dict[str, object]


@dataclass(frozen=True, slots=True)
class Headless:
    """The result: figures in minor units, what the passes made of the items, and the footing."""

    of: Currency
    opening: int
    closing: int
    foots: bool | None
    lines: dict[str, StatementLine]
    entries: dict[str, BookEntry]
    outcome: Outcome

    @property
    def cleared(self) -> int:
        """Σ entries the passes matched or washed."""
        return sum(self.entries[str(item)].amount for match in self.outcome.matches for item in match.entries)

    @property
    def difference(self) -> int:
        """closing − opening − cleared."""
        return self.closing - self.opening - self.cleared

    @property
    def unresolved(self) -> list[str]:
        """Ids of statement lines that are not matched: left, or asked about."""
        asked = [str(item) for question in self.outcome.questions for item in question.lines]
        return [str(line.id) for line in self.outcome.left.lines] + asked

    @property
    def done(self) -> bool:
        """Difference zero and nothing of the statement unresolved; it must not fail to foot."""
        return self.difference == 0 and not self.unresolved and self.foots is not False


@dataclass(frozen=True, slots=True)
class Joined:
    """How a statement joins on. `continues`: None where nothing went before it, or a balance is missing."""

    continues: bool | None
    notices: tuple[Notice, ...]


def joins(found: Sequence[ReadStatement], earlier: Sequence[ReadStatement] = ()) -> list[Joined]:
    """How each statement joins on the one before it of its account, among `found` and `earlier`."""
    known = [*earlier, *found]
    result: list[Joined] = []
    for read in found:
        of_account = [r for r in known if r.account == read.account and r.head.end < read.head.end]
        before = max(of_account, key=lambda r: r.head.end, default=None)
        if before is None:
            result.append(Joined(None, ()))
            continue
        opening = opening_of(read.head, delivered(read.amounts))
        notices = continuity(read.head, opening, Join(before.head.end, before.head.closing))
        told = opening is not None and before.head.closing is not None
        result.append(Joined(False if notices else (True if told else None), notices))
    return result


def _amount(name: str, text: str | None, of: Currency) -> int | None:
    if text is None:
        return None
    try:
        return parse_plain(text, of)
    except MoneyError as error:
        raise BadInput(f"--{name}: {error}", field=name, value=text) from None


def _pick(found: tuple[ReadStatement, ...], file: str, account: str | None) -> ReadStatement:
    mine = [item for item in found if account is None or item.account == account]
    if len(mine) == 1:
        return mine[0]
    there = ", ".join(item.account for item in found)
    what = "holds no statement of that account" if not mine else "holds several statements: name one with --account"
    raise BadInput(f"{file}: {what} ({there})", file=file, column="account", value=account or there)


@dataclass(frozen=True, slots=True)
class Setup:
    """What a SETUP.toml states: the passes in their order, the composed ones after them, and the readers."""

    passes: tuple[Pass, ...] = DEFAULT_PASSES
    taught: Taught = NOTHING_TAUGHT


def setup_of(name: str, data: bytes) -> Setup:
    """The passes, composed passes and readers named in a SETUP.toml; the default passes where it names none."""
    try:
        text = tomllib.loads(data.decode())
    except (UnicodeDecodeError, tomllib.TOMLDecodeError) as error:
        raise BadInput(f"{name}: {error}", file=name) from None
    unknown = set(text) - {"pass", "composed", "reader", "reversals"}
    if unknown:
        raise BadInput(f"{name}: unknown setting {sorted(unknown)[0]!r}", file=name, value=sorted(unknown)[0])
    fixed = _fixed_passes(name, text["pass"]) if "pass" in text else DEFAULT_PASSES
    composed = tuple(_composed(name, number, item) for number, item in _tables(name, "composed", text))
    readers = tuple(_reader(name, number, item) for number, item in _tables(name, "reader", text))
    return Setup((*fixed, *composed), Taught(readers, reversals=_reversals(name, text.get("reversals", {}))))


def _reversals(name: str, given: object) -> dict[Side, tuple[str, ...]]:
    found: dict[Side, tuple[str, ...]] = {}
    lists: dict[str, object] = given if isinstance(given, dict) else {"": given}
    for side, words in lists.items():
        if side not in set(Side) or not isinstance(words, list) or not all(map(_is_word, words)):
            raise BadInput(f"{name}: reversals are lists of words for bank and books", file=name, value=str(given))
        found[Side(side)] = tuple(str(word) for word in words)
    return found


def _is_word(value: object) -> bool:
    return isinstance(value, str) and bool(value.strip())


def _tables(name: str, key: str, text: dict[str, Any]) -> list[tuple[int, dict[str, Any]]]:
    found = text.get(key, [])
    if not isinstance(found, list) or not all(isinstance(item, dict) for item in found):
        raise BadInput(f"{name}: {key} is written as [[{key}]]", file=name, value=key)
    return list(enumerate(found, 1))


def _fixed_passes(name: str, listed: object) -> tuple[Pass, ...]:
    found: list[Pass] = []
    for number, item in _tables(name, "pass", {"pass": listed}):
        known = next((step for step in DEFAULT_PASSES if step.name == item.get("name")), None)
        if known is None:
            named = ", ".join(step.name for step in DEFAULT_PASSES)
            raise BadInput(f"{name}: pass {number} is none of: {named}", file=name, value=str(item))
        found.append(_with_window(name, number, known, item))
    return tuple(found)


def _composed(name: str, number: int, item: dict[str, Any]) -> Pass:
    try:
        return composed_of(item)
    except BadInput as error:
        raise BadInput(f"{name}: composed {number}: {error.message}", file=name, value=str(item)) from None


def _reader(name: str, number: int, item: dict[str, Any]) -> Reader:
    """A reader stated by its settings, or taught by `examples`: pairs of a text and the reference in it."""
    try:
        if "examples" not in item:
            return Reader.of_values(item)
        examples = [_example(pair) for pair in item["examples"]]
        kind = LineKind(item["kind"]) if item.get("kind") else None
        return learn(examples, Side(item.get("side", "bank")), TextOf(item.get("of", "text")), kind)
    except (ValueError, TypeError) as error:
        raise BadInput(f"{name}: reader {number}: {error}", file=name, value=str(item)) from None


def _example(pair: object) -> Example:
    if not isinstance(pair, list) or [type(part) for part in pair] != [str, str]:
        raise NoRule("an example is a pair of a text and the reference in it")
    text, mark = pair
    if mark not in text:
        raise NoRule(f"{mark!r} does not stand in {text!r}")
    return Example(text, text.index(mark), text.index(mark) + len(mark))


def _with_window(name: str, number: int, step: Pass, item: dict[str, object]) -> Pass:
    """The pass with the window a setup gives it; washes have none."""
    default = window_of(step)
    if default is None:
        return step
    days = {side: item.get(side, getattr(default, side)) for side in ("before", "after")}
    if any(not isinstance(n, int) or isinstance(n, bool) or not 0 <= n <= 3660 for n in days.values()):
        raise BadInput(f"{name}: pass {number} has a window that is no number of days", file=name, value=str(item))
    return with_window(step, Window(int(str(days["before"])), int(str(days["after"]))))


def reconcile_files(
    statement: tuple[str, bytes],
    book: tuple[str, bytes],
    *,
    opening: str | None = None,
    closing: str | None = None,
    account: str | None = None,
    code: str = "USD",
    setup: Setup | None = None,
) -> Headless:
    """Reconcile a statement file with a bank book file, each given as (name, bytes).

    BadInput: unreadable files, several statements without `account`, a balance that
    contradicts the file. One missing balance is derived from the other and the lines.
    """
    try:
        default = currency(code)
        read = _pick(read_statements(statement[1], default), statement[0], account)
    except MoneyError as error:
        raise BadInput(str(error), field="currency", value=code) from None
    except Unreadable as error:
        raise BadInput(error.sentence(statement[0])) from None
    of = currency(read.currency) if read.currency else default
    try:
        entries = read_bank_book(book[1], of)
    except Unreadable as error:
        raise BadInput(error.sentence(book[0])) from None
    balances: dict[str, int | None] = {}
    for name, given, stated in (
        ("opening", _amount("opening", opening, of), read.head.opening),
        ("closing", _amount("closing", closing, of), read.head.closing),
    ):
        if given is not None and stated is not None and given != stated:
            raise BadInput(
                f"{statement[0]}: --{name} {plain(given, of)} contradicts the file, which states {plain(stated, of)}",
                field=name,
            )
        balances[name] = stated if given is None else given
    total = sum(read.amounts)
    start, end = balances["opening"], balances["closing"]
    judged = footing(read.head, delivered(read.amounts)).foots
    if start is not None and end is not None:
        judged = judged is not False and start + total == end
    if start is None:
        start = 0 if end is None else end - total
    end = start + total if end is None else end
    lines = tuple(item.line for item in read.lines)
    setup = setup or Setup()
    outcome = run_passes(OpenItems(lines, entries, taught=setup.taught), setup.passes)
    return Headless(of, start, end, judged, {str(x.id): x for x in lines}, {str(e.id): e for e in entries}, outcome)


def _clues(found: Headless) -> tuple[Clue, ...]:
    """Explanations of what would remain if every proposal were taken."""
    offered = {str(item) for proposal in found.outcome.proposals for item in proposal.lines}
    asked = {str(item) for question in found.outcome.questions for item in question.lines}
    counted = {str(item) for match in found.outcome.matches for item in match.entries}
    residual = found.difference - sum(found.lines[item].amount for item in offered)
    total = sum(line.amount for line in found.lines.values())
    puzzle = Puzzle(
        amount=residual,
        lines=tuple(x for x in found.outcome.left.lines if str(x.id) not in offered | asked),
        open=found.outcome.left.entries,
        counted=tuple(e for ident, e in found.entries.items() if ident in counted),
        off=found.closing - found.opening - total,
    )
    return find_clues(puzzle, plain_wording(found.of))


def as_json(found: Headless) -> Json:
    """The result in the documented form; money as decimal strings."""
    of, outcome = found.of, found.outcome

    def ids(items: tuple[int | str, ...]) -> list[str]:
        return [str(item) for item in items]

    return {
        "opening": plain(found.opening, of),
        "closing": plain(found.closing, of),
        "cleared": plain(found.cleared, of),
        "difference": plain(found.difference, of),
        "unmatched_total": plain(sum(found.lines[item].amount for item in found.unresolved), of),
        "foots": found.foots,
        "matches": [
            {
                "statement": ids(m.lines),
                "book": ids(m.entries),
                "pass": m.by.value,
                "confidence": m.confidence / 100,
                "why": m.why,
            }
            for m in outcome.matches
        ],
        "washes": [
            {"side": "statement" if w.on_bank else "book", "ids": ids(w.ids), "why": w.why} for w in outcome.washes
        ],
        "undecided": [
            {"statement": ids(q.lines), "book": ids(q.entries), "question": q.question} for q in outcome.questions
        ],
        "proposals": [
            {
                "statement": ids(p.lines),
                "book": ids(p.entries),
                "difference": plain(p.difference, of),
                "why": p.why,
                "confidence": p.confidence / 100,
            }
            for p in outcome.proposals
        ],
        "unmatched": {
            "statement": [str(line.id) for line in outcome.left.lines],
            "book": [str(entry.id) for entry in outcome.left.entries],
        },
        "clues": [
            {
                "kind": clue.kind.value,
                "statement": ids(clue.lines),
                "book": ids(clue.entries),
                "explains": plain(clue.explains, of),
                "text": clue.text,
            }
            for clue in _clues(found)
        ],
    }
