"""What an account is taught: readers by example, and the names that people's own matches tell."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from netnaught.api.deps import Ctx, Id, Text
from netnaught.core.matching import Example, Reader, Side, TextOf, Yield
from netnaught.core.statement import LineKind
from netnaught.services import teaching

router = APIRouter(prefix="/api/companies/{company_id}/accounts/{account_id}", tags=["setup"])

Sample = Annotated[str, Field(max_length=1000)]


class ExampleIn(BaseModel):
    """A sample text and the reference marked in it: text[start:end]; an empty mark tells the kind alone."""

    text: Sample
    start: Annotated[int, Field(ge=0, le=1000)]
    end: Annotated[int, Field(ge=0, le=1000)]


class LessonIn(BaseModel):
    """Examples of one reader."""

    side: Side
    of: TextOf
    kind: LineKind | None = None
    examples: Annotated[list[ExampleIn], Field(min_length=1, max_length=20)]


class SampleOut(BaseModel):
    """A text of the account and what is read in it."""

    text: str
    read: str


class YieldOut(BaseModel):
    """What a rule reads: of how many items, how many of them agree with the other side, how many newly."""

    reads: int
    of: int
    agree: int
    gain: int
    samples: list[SampleOut]

    @classmethod
    def of_yield(cls, found: Yield) -> YieldOut:
        samples = [SampleOut(text=text, read=read) for text, read in found.samples]
        return cls(reads=found.reads, of=found.of, agree=found.agree, gain=found.gain, samples=samples)


class ReaderOut(BaseModel):
    """A rule in one sentence, its settings, and what it yields. `id` and `taught_by` of those in use."""

    id: int | None
    sentence: str
    side: Side
    taught_by: str | None
    yields: YieldOut


class NameOut(BaseModel):
    """A bank text that people have matched with one payee."""

    key: str
    sample: str
    payee: str
    times: int
    made_by: str


class TextPair(BaseModel):
    """An item's reference and its text, to teach by."""

    reference: str
    text: str


class SuggestedOut(BaseModel):
    """A rule found by the program. `values`: to be handed back when it is kept."""

    sentence: str
    yields: YieldOut
    values: dict[str, str | int | bool | None]


class ReversalWord(BaseModel):
    """A word that says on one side that something is taken back."""

    side: Side
    word: Annotated[Text, Field(min_length=1, max_length=40)]


class LessonsOut(BaseModel):
    """What an account knows of its texts, what the program would add, and texts to teach by."""

    readers: list[ReaderOut]
    suggestions: list[SuggestedOut]
    names: list[NameOut]
    bank_texts: list[TextPair]
    book_texts: list[TextPair]
    reversals: list[ReversalWord]


class KeepIn(BaseModel):
    """A reader to keep: the examples that teach it, or the values of a suggestion."""

    lesson: LessonIn | None = None
    values: dict[str, str | int | bool | None] | None = None


class ReversalsIn(BaseModel):
    """An account's own words of reversal, besides the usual ones."""

    words: Annotated[list[ReversalWord], Field(max_length=60)]


class NameIn(BaseModel):
    """The key of a name."""

    key: Text


def _examples(body: LessonIn) -> list[Example]:
    return [Example(e.text, e.start, e.end) for e in body.examples]


def _pairs(found: list[tuple[str, str]]) -> list[TextPair]:
    return [TextPair(reference=reference, text=text) for reference, text in found]


def _rule(ident: int | None, reader: Reader, taught_by: str | None, yields: Yield) -> ReaderOut:
    return ReaderOut(
        id=ident,
        sentence=reader.sentence(),
        side=reader.side,
        taught_by=taught_by,
        yields=YieldOut.of_yield(yields),
    )


@router.get("/lessons", operation_id="lessons")
def get_lessons(ctx: Ctx, company_id: Id, account_id: Id) -> LessonsOut:
    """Readers, suggestions, names, and texts to teach by."""
    found = teaching.lessons(ctx, company_id, account_id)
    return LessonsOut(
        readers=[_rule(known.id, known.reader, known.taught_by, known.yields) for known in found.readers],
        suggestions=[
            SuggestedOut(sentence=s.reader.sentence(), yields=YieldOut.of_yield(s.yields), values=s.reader.values())
            for s in found.suggestions
        ],
        names=[NameOut.model_validate(name, from_attributes=True) for name in found.names],
        bank_texts=_pairs(found.bank_texts),
        book_texts=_pairs(found.book_texts),
        reversals=[ReversalWord(side=Side(side), word=word) for side, word in found.reversals],
    )


@router.post("/lessons/try", operation_id="tryReader")
def post_try(ctx: Ctx, company_id: Id, account_id: Id, body: LessonIn) -> ReaderOut:
    """The rule that the examples teach, and what it yields; nothing is kept."""
    rule, yields = teaching.try_out(ctx, company_id, account_id, _examples(body), body.side, body.of, body.kind)
    return _rule(None, rule, None, yields)


@router.post("/readers", operation_id="keepReader", status_code=201)
def post_reader(ctx: Ctx, company_id: Id, account_id: Id, body: KeepIn) -> ReaderOut:
    """Use a reader from now on; it acts at once on what is open."""
    if body.lesson is not None:
        lesson = body.lesson
        rule, _ = teaching.try_out(ctx, company_id, account_id, _examples(lesson), lesson.side, lesson.of, lesson.kind)
        kept = teaching.keep_reader(ctx, company_id, account_id, rule)
    else:
        kept = teaching.keep_values(ctx, company_id, account_id, body.values or {})
    found = next(known for known in teaching.lessons(ctx, company_id, account_id).readers if known.id == kept)
    return _rule(found.id, found.reader, found.taught_by, found.yields)


@router.delete("/readers/{reader_id}", operation_id="forgetReader", status_code=204)
def delete_reader(ctx: Ctx, company_id: Id, account_id: Id, reader_id: Id) -> None:
    """Stop using a reader; what is decided stays."""
    teaching.forget_reader(ctx, company_id, account_id, reader_id)


@router.put("/reversals", operation_id="writeReversals", status_code=204)
def put_reversals(ctx: Ctx, company_id: Id, account_id: Id, body: ReversalsIn) -> None:
    """Set the words of reversal; they act at once on what is open."""
    teaching.write_reversals(ctx, company_id, account_id, [(item.side, item.word) for item in body.words])


@router.post("/names/forget", operation_id="forgetName", status_code=204)
def post_forget_name(ctx: Ctx, company_id: Id, account_id: Id, body: NameIn) -> None:
    """Do not take a bank text for a payee any more."""
    teaching.forget_name(ctx, company_id, account_id, body.key)
