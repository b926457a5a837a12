"""Books kept elsewhere, exported afresh, against what is known of them: nothing here decides what happens.

changes      what a row is, what it touches, when a file is in doubt
bank_book    the entries of a bank book
journals     the journal entries of the general ledger's detail
"""

from netnaught.core.reimport.bank_book import Comparison, Difference, Known, compare
from netnaught.core.reimport.changes import Doubt, RowChange, Touches
from netnaught.core.reimport.journals import (
    JournalComparison,
    JournalDifference,
    KnownJournal,
    compare_journals,
)

__all__ = [
    "Comparison",
    "Difference",
    "Doubt",
    "JournalComparison",
    "JournalDifference",
    "Known",
    "KnownJournal",
    "RowChange",
    "Touches",
    "compare",
    "compare_journals",
]
