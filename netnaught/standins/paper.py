"""What the stand-in bank hands out on paper: statements as PDF, images of checks. Drawn, invented."""

from __future__ import annotations

import textwrap
from io import BytesIO

from PIL import Image, ImageDraw, ImageFont
from reportlab import rl_config
from reportlab.lib.pagesizes import LETTER
from reportlab.pdfgen.canvas import Canvas

from netnaught.core.money import Currency, plain
from netnaught.core.statement import StatementLine
from netnaught.formats import ReadStatement

_LEFT, _TEXT, _REF, _OUT, _IN, _BALANCE = 48, 118, 315, 432, 500, 570
_TOP, _BOTTOM, _STEP = 640, 84, 15
_WIDE = 34


def _money(amount: int, of: Currency) -> str:
    whole, _, part = plain(abs(amount), of).partition(".")
    grouped = f"{int(whole):,}" + (f".{part}" if part else "")
    return f"-{grouped}" if amount < 0 else grouped


class _Pages:
    """Writes a statement page by page, with heads and carried-forward lines."""

    def __init__(self, statement: ReadStatement, of: Currency, ruled: bool, out: BytesIO) -> None:
        rl_config.invariant = 1
        self.statement, self.of, self.ruled = statement, of, ruled
        self.canvas = Canvas(out, pagesize=LETTER, invariant=1)
        self.balance = statement.head.opening or 0
        self.page = 0
        self.y = 0.0
        self.begin()

    def begin(self) -> None:
        """Head of a page."""
        self.page += 1
        head, canvas = self.statement.head, self.canvas
        canvas.setFont("Times-Bold", 15)
        canvas.drawString(_LEFT, 735, self.statement.bank)
        canvas.setFont("Times-Roman", 10)
        canvas.drawString(_LEFT, 718, f"Account number: {self.statement.account}")
        canvas.drawString(_LEFT, 704, f"Statement period: {head.start:%m/%d/%Y} to {head.end:%m/%d/%Y}")
        canvas.drawRightString(_BALANCE, 735, f"Page {self.page}")
        canvas.setFont("Times-Bold", 9.5)
        for x, word in ((_LEFT, "Date"), (_TEXT, "Description"), (_REF, "Reference")):
            canvas.drawString(x, _TOP + 18, word)
        for x, word in ((_OUT, "Withdrawals"), (_IN, "Deposits"), (_BALANCE, "Balance")):
            canvas.drawRightString(x, _TOP + 18, word)
        canvas.setFont("Times-Roman", 9.5)
        self.y = _TOP
        self.plain_row("Opening balance" if self.page == 1 else "Brought forward", self.balance)

    def rule(self) -> None:
        """A line below a row, where the bank rules its tables."""
        if self.ruled:
            self.canvas.setLineWidth(0.3)
            self.canvas.line(_LEFT, self.y - 4, _BALANCE, self.y - 4)

    def plain_row(self, text: str, amount: int) -> None:
        """A balance without a date."""
        self.canvas.drawString(_TEXT, self.y, text)
        self.canvas.drawRightString(_BALANCE, self.y, _money(amount, self.of))
        self.rule()
        self.y -= _STEP

    def line(self, line: StatementLine) -> None:
        """One line; long texts run on below it."""
        texts = textwrap.wrap(line.description, _WIDE) or [""]
        if self.y - _STEP * len(texts) < _BOTTOM:
            self.plain_row("Carried forward", self.balance)
            self.canvas.showPage()
            self.begin()
        self.balance += line.amount
        self.canvas.drawString(_LEFT, self.y, f"{line.date:%m/%d/%Y}")
        self.canvas.drawString(_TEXT, self.y, texts[0])
        self.canvas.drawString(_REF, self.y, line.reference)
        self.canvas.drawRightString(_OUT if line.amount < 0 else _IN, self.y, _money(abs(line.amount), self.of))
        self.canvas.drawRightString(_BALANCE, self.y, _money(self.balance, self.of))
        for more in texts[1:]:
            self.y -= _STEP
            self.canvas.drawString(_TEXT, self.y, more)
        self.rule()
        self.y -= _STEP

    def finish(self) -> None:
        """The closing balance."""
        self.plain_row("Closing balance", self.balance)
        self.canvas.showPage()
        self.canvas.save()


def statement_pdf(statement: ReadStatement, of: Currency, *, ruled: bool = False) -> bytes:
    """A statement as this bank prints it: running balance, several pages, texts that run on."""
    out = BytesIO()
    pages = _Pages(statement, of, ruled, out)
    for read in statement.lines:
        pages.line(read.line)
    pages.finish()
    return out.getvalue()


def check_image(bank: str, number: str, day: str, payee: str, amount: str, memo: str) -> bytes:
    """The front of a check as a PNG, large enough to read."""
    image = Image.new("RGB", (900, 380), "#f4efe2")
    draw = ImageDraw.Draw(image)

    def put(x: int, y: int, text: str, size: int = 22, fill: str = "#2b2733") -> None:
        draw.text((x, y), text, font=ImageFont.load_default(size), fill=fill)

    draw.rectangle((12, 12, 887, 367), outline="#6b2142", width=3)
    put(36, 34, bank, 28, "#6b2142")
    put(760, 34, number, 28)
    put(640, 84, day)
    put(36, 150, "Pay to the order of", 18, "#5f5766")
    put(230, 144, payee, 28)
    draw.line((225, 182, 660, 182), fill="#5f5766")
    draw.rectangle((680, 138, 864, 186), outline="#5f5766")
    put(694, 148, amount, 26)
    put(36, 262, "For", 18, "#5f5766")
    put(84, 256, memo)
    put(36, 322, f"specimen of {bank}: not a real check", 18, "#5f5766")
    out = BytesIO()
    image.save(out, "PNG")
    return out.getvalue()
