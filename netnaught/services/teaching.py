"""What an account is taught: readers by example, names from people's own matches; both act at once on what is open."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from netnaught.core.ledger import BookEntry
from netnaught.core.matching import (
    Example,
    NoRule,
    Reader,
    Side,
    Suggestion,
    Taught,
    TextOf,
    Yield,
    learn,
    name_key,
    suggest,
    yield_of,
)
from netnaught.core.matching.traits import words_of
from netnaught.core.statement import LineKind, StatementLine
from netnaught.services.access import Context, Right, account_for, record_event
from netnaught.services.errors import BadInput, Conflict, NotFound
from netnaught.store import bank_book, reconciliations, statements, taught
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.database import Connection, atomic

MOST_SAMPLES = 400
_OF_EACH_MAKE = 3


@dataclass(frozen=True, slots=True)
class KnownReader:
    """A reader in use, who taught it, and what it yields on the account's own items."""

    id: int
    reader: Reader
    taught_by: str
    yields: Yield


@dataclass(frozen=True, slots=True)
class KnownName:
    """A bank text that stands for a payee, as a person's own matches tell."""

    key: str
    sample: str
    payee: str
    times: int
    made_by: str


@dataclass(frozen=True, slots=True)
class Lessons:
    """What an account knows of its texts, what the program would add, and texts to teach by."""

    readers: list[KnownReader]
    suggestions: tuple[Suggestion, ...]
    names: list[KnownName]
    bank_texts: list[tuple[str, str]]
    book_texts: list[tuple[str, str]]
    reversals: list[tuple[str, str]]


def taught_of(db: Connection, account: BankAccount) -> Taught:
    """The readers and names that the matching of an account uses."""
    readers = tuple(Reader.of_values(s.values) for s in taught.readers(db, account.company_id, account.id))
    words = taught.reversal_words(db, account.company_id, account.id)
    reversals = {side: tuple(word for of, word in words if of == side) for side in Side}
    own = {side: some for side, some in reversals.items() if some}
    return Taught(readers, {name.key: name.payee for name in names_of(db, account)}, own)


def names_of(db: Connection, account: BankAccount) -> list[KnownName]:
    """Names that tell something: one payee for a text, named in it by no word of its own; newest first."""
    aside = taught.names_set_aside(db, account.company_id, account.id)
    by_key: dict[str, list[taught.HandMatch]] = {}
    for made in taught.hand_matches(db, account.company_id, account.id):
        by_key.setdefault(name_key(made.description), []).append(made)
    found: list[KnownName] = []
    for key, made_so in by_key.items():
        payees = {made.payee.casefold() for made in made_so}
        first = made_so[0]
        told = words_of(first.payee) & words_of(first.description)
        if key and key not in aside and len(payees) == 1 and words_of(first.payee) and not told:
            found.append(KnownName(key, first.description, first.payee, len(made_so), first.made_by))
    return found


def _own_items(ctx: Context, account: BankAccount) -> tuple[tuple[StatementLine, ...], tuple[BookEntry, ...]]:
    """Every line and entry of the account: what a rule is tried on."""
    company = account.company_id
    lines = [
        stored.line
        for at in reconciliations.reconciliations(ctx.db, company, account.id)
        for stored in statements.lines_of(ctx.db, company, at.id)
    ]
    return tuple(lines), tuple(stored.entry for stored in bank_book.book(ctx.db, company, account.id))


def lessons(ctx: Context, company_id: int, account_id: int) -> Lessons:
    """Everything there is to see, teach and take away."""
    _, account = account_for(ctx, company_id, account_id)
    lines, entries = _own_items(ctx, account)
    stored = [(s, Reader.of_values(s.values)) for s in taught.readers(ctx.db, company_id, account_id)]
    known = [KnownReader(s.id, r, s.created_by, yield_of(r, lines, entries)) for s, r in stored]
    return Lessons(
        known,
        suggest(lines, entries, [reader for _, reader in stored]),
        names_of(ctx.db, account),
        _samples(lines),
        _samples(entries),
        taught.reversal_words(ctx.db, company_id, account_id),
    )


def _samples(items: Sequence[StatementLine | BookEntry]) -> list[tuple[str, str]]:
    """References and texts to teach by, three of each make, newest first."""
    makes: Counter[tuple[str, str]] = Counter()
    found: dict[tuple[str, str], None] = {}
    text = Reader(Side.BANK, TextOf.TEXT)
    for item in reversed(items):
        pair = (item.reference, text.text_of(item).strip())
        make = (name_key(pair[0]), name_key(pair[1]))
        if pair not in found and makes[make] < _OF_EACH_MAKE:
            makes[make] += 1
            found[pair] = None
        if len(found) == MOST_SAMPLES:
            break
    return list(found)


def try_out(
    ctx: Context,
    company_id: int,
    account_id: int,
    examples: Sequence[Example],
    side: Side,
    of: TextOf,
    kind: LineKind | None,
) -> tuple[Reader, Yield]:
    """The rule that the examples teach, and what it yields on the account's own items; nothing is kept."""
    _, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    try:
        rule = learn(examples, side, of, kind)
    except NoRule as error:
        message = str(error)
        raise BadInput(f"{message[0].upper()}{message[1:]}. Nothing was changed.", field="examples") from None
    return rule, yield_of(rule, *_own_items(ctx, account))


def keep_reader(ctx: Context, company_id: int, account_id: int, reader: Reader) -> int:
    """Use a reader from now on; it acts at once on what is open, and leaves what is decided."""
    with atomic(ctx.db):
        account_for(ctx, company_id, account_id, Right.PREPARE)
        kept = taught.add_reader(ctx.db, company_id, account_id, reader.values(), ctx.user.id, ctx.stamp)
        if kept is None:
            raise Conflict("The account has this reader already. Nothing was changed.")
        reconciliations.note_change(ctx.db, company_id, account_id)
        record_event(ctx, company_id, "reader taught", "bank_account", account_id, after={"rule": reader.sentence()})
        return kept


def keep_values(ctx: Context, company_id: int, account_id: int, values: dict[str, Any]) -> int:
    """The same for a reader given by its values, as a suggestion gives them; BadInput names what is wrong."""
    account_for(ctx, company_id, account_id, Right.PREPARE)
    try:
        reader = Reader.of_values(values)
    except NoRule as error:
        raise BadInput(f"The reader cannot be used: {error}. Nothing was changed.", field="values") from None
    return keep_reader(ctx, company_id, account_id, reader)


def forget_reader(ctx: Context, company_id: int, account_id: int, reader_id: int) -> None:
    """Stop using a reader; what it helped to match stays matched."""
    with atomic(ctx.db):
        account_for(ctx, company_id, account_id, Right.PREPARE)
        if not taught.remove_reader(ctx.db, company_id, account_id, reader_id, ctx.stamp):
            raise NotFound("There is no such reader. Nothing was changed.")
        reconciliations.note_change(ctx.db, company_id, account_id)
        record_event(ctx, company_id, "reader removed", "bank_account", account_id, before={"reader": reader_id})


def write_reversals(ctx: Context, company_id: int, account_id: int, words: Sequence[tuple[Side, str]]) -> None:
    """Set the words by which this account's bank and clerks say that something is taken back."""
    cleaned = [(side.value, " ".join(word.split()).lower()) for side, word in words]
    if any(not 2 <= len(word) <= 40 for _, word in cleaned):
        raise BadInput("A word of reversal has two to forty letters. Nothing was changed.", field="words")
    with atomic(ctx.db):
        account_for(ctx, company_id, account_id, Right.PREPARE)
        before = taught.reversal_words(ctx.db, company_id, account_id)
        taught.write_reversal_words(ctx.db, company_id, account_id, cleaned)
        reconciliations.note_change(ctx.db, company_id, account_id)
        record_event(
            ctx,
            company_id,
            "reversal words set",
            "bank_account",
            account_id,
            before={"words": [list(pair) for pair in before]},
            after={"words": [list(pair) for pair in cleaned]},
        )


def forget_name(ctx: Context, company_id: int, account_id: int, key: str) -> None:
    """Do not take a bank text for a payee any more."""
    with atomic(ctx.db):
        _, account = account_for(ctx, company_id, account_id, Right.PREPARE)
        found = next((name for name in names_of(ctx.db, account) if name.key == key), None)
        if found is None:
            raise NotFound("There is no such name. Nothing was changed.")
        taught.set_name_aside(ctx.db, company_id, account_id, key, ctx.user.id, ctx.stamp)
        reconciliations.note_change(ctx.db, company_id, account_id)
        record_event(
            ctx,
            company_id,
            "name removed",
            "bank_account",
            account_id,
            before={"text": found.sample, "payee": found.payee},
        )
