"""Tables of a bank's own making (delimited text, spreadsheets, PDF): a layout says how one is read.

grid      rows of cells, each with its line in the file
values    days and amounts as banks write them
layout    which column is what, and how its values are written; kept per bank account
propose   a layout found from the table itself, with questions where it could be read in two ways
read      a grid read with a layout, proved by its running balance where it has one
"""

from netnaught.formats.tables.grid import ENCODINGS, Grid, GridRow, delimited_grid, looks_like_delimited
from netnaught.formats.tables.layout import ROLES, ColumnRole, Layout
from netnaught.formats.tables.propose import LayoutQuestion, Proposed, complete, draft_at, propose
from netnaught.formats.tables.read import read_grid

__all__ = [
    "ENCODINGS",
    "ROLES",
    "ColumnRole",
    "Grid",
    "GridRow",
    "Layout",
    "LayoutQuestion",
    "Proposed",
    "complete",
    "delimited_grid",
    "draft_at",
    "looks_like_delimited",
    "propose",
    "read_grid",
]
