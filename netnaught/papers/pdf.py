"""The report as PDF (library `reportlab`), in the typeface of the screens; the same bytes every time."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from decimal import Decimal
from functools import cache
from importlib import resources
from io import BytesIO
from typing import Any
from xml.sax.saxutils import escape

from babel.dates import format_date, format_datetime
from babel.numbers import format_decimal
from reportlab import rl_config
from reportlab.lib.colors import Color, HexColor
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    KeepTogether,
    Paragraph,
    SimpleDocTemplate,
    Spacer,
    Table,
    TableStyle,
)

from netnaught.core.money import currency, plain
from netnaught.papers.report import Figure, Item, Report

INK, MUTED, LINE, WINE = HexColor("#241f2b"), HexColor("#5f5766"), HexColor("#ddd5c5"), HexColor("#6b2142")
FACES = ("Text", "TextBold", "Mono", "MonoBold")


class FontsMissing(RuntimeError):
    """The typefaces have not been built: run `make build`."""


@cache
def _register() -> None:
    """Make the typefaces known to reportlab; fixed bytes need its invariant mode."""
    rl_config.invariant = 1
    folder = resources.files("netnaught.papers") / "fonts"
    for face in FACES:
        with resources.as_file(folder / f"{face}.ttf") as path:
            if not path.is_file():
                raise FontsMissing("The typefaces of the papers are missing: run `make build`.")
            pdfmetrics.registerFont(TTFont(face, str(path)))
    pdfmetrics.registerFontFamily("Text", normal="Text", bold="TextBold", italic="Text", boldItalic="TextBold")


def _style(*, font: str = "Text", size: float = 8.5, leading: float = 11, colour: Color = INK) -> ParagraphStyle:
    return ParagraphStyle("report", fontName=font, fontSize=size, leading=leading, textColor=colour)


class _Writer:
    """Writes amounts and dates the way the company does, and lays out the report."""

    def __init__(self, report: Report) -> None:
        _register()
        self.report = report
        self.of = currency(report.currency)
        self.width = self.page[0] - 36 * mm

    @property
    def page(self) -> tuple[float, float]:
        return LETTER if self.report.locale.endswith(("US", "CA")) else A4

    def amount(self, minor: int) -> str:
        pattern = "#,##0" + ("." + "0" * self.of.digits if self.of.digits else "")
        return format_decimal(Decimal(plain(minor, self.of)), format=pattern, locale=self.report.locale).replace(
            "-", "−"
        )

    def day(self, iso: str) -> str:
        return format_date(date.fromisoformat(iso), format="medium", locale=self.report.locale) if iso else ""

    def moment(self, iso: str) -> str:
        when = datetime.fromisoformat(iso.replace("Z", "+00:00"))
        return f"{format_datetime(when, format='medium', locale=self.report.locale)} UTC"

    def story(self) -> list[Flowable]:
        report = self.report
        title = _style(font="TextBold", size=17, leading=21)
        muted = _style(colour=MUTED)
        head = f"{report.company} · {report.account}"
        where = " · ".join(
            part for part in (report.bank, report.number and f"account {report.number}", report.currency) if part
        )
        found: list[Flowable] = [
            Paragraph(escape(head), title),
            Paragraph(
                f"Bank reconciliation to <b>{self.day(report.end)}</b>, from {self.day(report.start)}",
                _style(size=10.5, leading=15),
            ),
            Paragraph(escape(where), muted),
            Spacer(1, 5 * mm),
            self._figures("Statement and books", report.statement_equation),
            Spacer(1, 4 * mm),
            self._two_sides(),
            Spacer(1, 3 * mm),
            Paragraph(self._ledger(), _style()),
            Spacer(1, 4 * mm),
            self._seal(),
            Spacer(1, 6 * mm),
        ]
        found += self._items(
            f"Outstanding at {self.day(report.end)} ({len(report.outstanding)})", report.outstanding, False
        )
        found.append(Spacer(1, 6 * mm))
        found += self._items(f"Cleared ({len(report.cleared)})", report.cleared, True)
        return found

    def _ledger(self) -> str:
        books = self.report.book_side[-1].amount
        if self.report.gl_balance is None:
            return "The general ledger of this account is kept elsewhere."
        off = self.report.gl_balance - books
        agrees = "agrees with the bank book" if not off else f"{self.amount(off)} against the bank book"
        return f"General ledger, account {escape(self.report.gl_account)}: <b>{self.amount(self.report.gl_balance)}</b>, {agrees}."

    def _seal(self) -> Flowable:
        report = self.report
        who = f"{escape(report.prepared_by)}, {self.moment(report.prepared_at)}"
        if not report.sealed:
            text = f"<b>Not sealed.</b> As it stood for {who}."
        else:
            text = (
                f"<b>Sealed</b> by {who}. Seal {report.seal_number} of this account.<br/>"
                f"Fingerprint (SHA-256) <font name='Mono' size='7.5'>{report.fingerprint}</font><br/>"
                + (
                    f"follows <font name='Mono' size='7.5'>{report.previous_fingerprint}</font>"
                    if report.seal_number > 1
                    else "the first of its chain"
                )
            )
        files = "".join(f"<br/>{escape(name)}" for name in report.files)
        box = Table([[Paragraph(text + files, _style(leading=12))]], colWidths=[self.width])
        box.setStyle(
            TableStyle(
                [
                    ("BOX", (0, 0), (-1, -1), 0.8, WINE),
                    ("LEFTPADDING", (0, 0), (-1, -1), 8),
                    ("TOPPADDING", (0, 0), (-1, -1), 5),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 6),
                ]
            )
        )
        return box

    def _figure_rows(self, figures: Sequence[Figure], width: float) -> Table:
        rows = [[figure.label, self.amount(figure.amount)] for figure in figures]
        style: list[tuple[Any, ...]] = [
            ("FONT", (0, 0), (0, -1), "Text", 8.5),
            ("FONT", (1, 0), (1, -1), "Mono", 8.5),
            ("TEXTCOLOR", (0, 0), (-1, -1), INK),
            ("ALIGN", (1, 0), (1, -1), "RIGHT"),
            ("TOPPADDING", (0, 0), (-1, -1), 1.5),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5),
            ("LEFTPADDING", (0, 0), (0, -1), 0),
            ("RIGHTPADDING", (1, 0), (1, -1), 0),
        ]
        for number, figure in enumerate(figures):
            if figure.total:
                style += [
                    ("LINEABOVE", (0, number), (-1, number), 0.6, INK),
                    ("FONT", (0, number), (0, number), "TextBold", 8.5),
                    ("FONT", (1, number), (1, number), "MonoBold", 8.5),
                ]
        table = Table(rows, colWidths=[width - 32 * mm, 32 * mm])
        table.setStyle(TableStyle(style))
        return table

    def _heading(self, text: str) -> Paragraph:
        return Paragraph(escape(text), _style(font="TextBold", size=10.5, leading=15, colour=WINE))

    def _figures(self, title: str, figures: Sequence[Figure]) -> Flowable:
        return KeepTogether([self._heading(title), self._figure_rows(figures, self.width)])

    def _two_sides(self) -> Flowable:
        half = self.width / 2 - 4 * mm
        sides = Table(
            [
                [self._heading("Bank side"), "", self._heading("Book side")],
                [self._figure_rows(self.report.bank_side, half), "", self._figure_rows(self.report.book_side, half)],
            ],
            colWidths=[half, 8 * mm, half],
        )
        sides.setStyle(
            TableStyle(
                [
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    ("LEFTPADDING", (0, 0), (-1, -1), 0),
                    ("RIGHTPADDING", (0, 0), (-1, -1), 0),
                ]
            )
        )
        return sides

    def _items(self, title: str, items: Sequence[Item], cleared: bool) -> list[Flowable]:
        if not items:
            return [self._heading(title), Paragraph("None.", _style(colour=MUTED))]
        cell, small = _style(), _style(size=7.5, leading=10, colour=MUTED)
        dates = ["Book date", "Bank date"] if cleared else ["Book date"]
        columns = [*dates, "Reference", "Payee or text", "Why" if cleared else "Age", "Amount"]
        rows: list[list[Any]] = [[self._heading(title), *[""] * (len(columns) - 1)], columns]
        for item in items:
            days = [self.day(item.date), self.day(item.bank_date)] if cleared else [self.day(item.date)]
            texts = [Paragraph(escape(item.text), cell), Paragraph(escape(item.note), small)]
            rows.append([*days, item.reference, *texts, self.amount(item.amount)])
        rows.append(["", *[""] * (len(dates) + 2), self.amount(sum(item.amount for item in items))])
        fixed = [22 * mm] * len(dates) + [20 * mm]
        left = self.width - sum(fixed) - 28 * mm
        table = Table(rows, colWidths=[*fixed, left * 0.4, left * 0.6, 28 * mm], repeatRows=2)
        table.setStyle(
            TableStyle(
                [
                    ("FONT", (0, 0), (-1, -1), "Text", 8.5),
                    ("SPAN", (0, 0), (-1, 0)),
                    ("FONT", (0, 1), (-1, 1), "TextBold", 7.5),
                    ("TEXTCOLOR", (0, 0), (-1, -1), INK),
                    ("TEXTCOLOR", (0, 1), (-1, 1), MUTED),
                    ("FONT", (-1, 2), (-1, -2), "Mono", 8.5),
                    ("FONT", (-1, -1), (-1, -1), "MonoBold", 8.5),
                    ("ALIGN", (-1, 1), (-1, -1), "RIGHT"),
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    ("LINEBELOW", (0, 1), (-1, -2), 0.3, LINE),
                    ("LINEABOVE", (-1, -1), (-1, -1), 0.6, INK),
                    ("TOPPADDING", (0, 0), (-1, -1), 1.5),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5),
                    ("LEFTPADDING", (0, 0), (0, -1), 0),
                    ("RIGHTPADDING", (-1, 0), (-1, -1), 0),
                ]
            )
        )
        return [table]

    def foot(self, canvas: Canvas, document: BaseDocTemplate) -> None:
        canvas.saveState()
        canvas.setFont("Text", 7.5)
        canvas.setFillColor(MUTED)
        seal = f" · seal {self.report.fingerprint[:12]}…" if self.report.sealed else " · not sealed"
        canvas.drawString(
            18 * mm, 10 * mm, f"{self.report.company} · {self.report.account} · to {self.day(self.report.end)}{seal}"
        )
        canvas.drawRightString(self.page[0] - 18 * mm, 10 * mm, f"Page {document.page}")
        canvas.restoreState()


def render_pdf(report: Report) -> bytes:
    """The report as PDF bytes; FontsMissing when the typefaces have not been built."""
    writer = _Writer(report)
    out = BytesIO()
    document = SimpleDocTemplate(
        out,
        pagesize=writer.page,
        leftMargin=18 * mm - 6,  # a frame pads its content by 6 points
        rightMargin=18 * mm - 6,
        topMargin=16 * mm,
        bottomMargin=18 * mm,
        title=f"{report.account} to {report.end}",
        author=report.company,
    )
    document.build(writer.story(), onFirstPage=writer.foot, onLaterPages=writer.foot)
    return out.getvalue()
