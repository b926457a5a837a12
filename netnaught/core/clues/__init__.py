"""Clues: checkable explanations of a difference, or of the residual that would remain if every proposal were taken.

Every clue is exact: it names the items, says which part of the amount it explains, and can
be checked by looking at them. Signatures: what mistakes look like, in the trade.
"""

from __future__ import annotations

from netnaught.core.clues.find import Clue, ClueKind, Puzzle, find_clues

__all__ = ["Clue", "ClueKind", "Puzzle", "find_clues"]
