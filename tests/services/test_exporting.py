"""Journals for books kept elsewhere: balanced, each exactly once, to be had again; totals checked with pandas."""

from __future__ import annotations

from datetime import date
from io import BytesIO

import openpyxl
import pandas as pd
import pytest

from netnaught.services import exporting, recording
from netnaught.services.coding import PartGiven
from netnaught.services.errors import BadInput, NotFound, Refused
from netnaught.services.recording import Recording
from tests.world import World

OCTOBER = (date(2026, 10, 1), date(2026, 10, 31))


def test_what_was_recorded_is_exported_once_balanced_and_to_be_had_again(world: World) -> None:
    args = (world.ctx, world.company.id)
    at = world.read(world.line(-700, text="A"), world.line(-901, text="=SUM(A1)"))
    lines = world.line_ids(at)
    halves = tuple(PartGiven(world.gl[number], share=5000) for number in ("5000", "5900"))
    recording.record_lines(*args, at, [lines["F1"]], Recording((PartGiven(world.gl["5000"]),), "Payee", "first"))
    recording.record_lines(*args, at, [lines["F2"]], Recording(halves, "=1+1", "second"))
    batch = exporting.export(*args, *OCTOBER)
    name, _, data = exporting.written(*args, batch, "csv")
    table = pd.read_csv(BytesIO(data), dtype=str, keep_default_na=False)
    assert name == f"journals-{batch}.csv"
    assert tuple(table.columns) == exporting.COLUMNS
    cents = table["amount"].map(lambda text: round(float(text) * 100))
    assert cents.groupby(table["journal"]).sum().eq(0).all()
    assert cents.groupby(table["account"]).sum().to_dict() == {"1010": -1601, "5000": 1150, "5900": 451}
    assert not table["payee"].str.startswith("=").any()  # nothing that a spreadsheet would run
    with pytest.raises(Refused, match="can be had again"):
        exporting.export(*args, *OCTOBER)
    world.entry(-5, "2026-10-09")
    assert exporting.export(*args, *OCTOBER) != batch
    assert [b.journals for b in exporting.batches(*args)] == [1, 2]
    sheet = openpyxl.load_workbook(BytesIO(exporting.written(*args, batch, "xlsx")[2])).active
    assert sheet
    assert [cell.value for cell in sheet[2]][4] == "-7.00"
    with pytest.raises(BadInput, match="csv or xlsx"):
        exporting.written(*args, batch, "pdf")
    with pytest.raises(NotFound):
        exporting.written(*args, 999, "csv")
    with pytest.raises(BadInput, match="ends before it starts"):
        exporting.export(*args, OCTOBER[1], OCTOBER[0])
