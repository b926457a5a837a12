"""Seals: content-hashed snapshots of a finished reconciliation, chained per bank account.

content        what a seal covers, in one canonical form
chain          each seal's fingerprint over its content and the one before
disturbances   what has changed in something sealed, and what mends it
trace          the walk from the sealed closing to what the books count today
bank_gap       why a statement does not open where the last seal closed
ledger_shift   how far the ledger is from what was sealed of it
differs        what one seal says otherwise than another
"""

from netnaught.core.seal.bank_gap import BankGap, BankGapCause, bank_gap
from netnaught.core.seal.chain import FIRST, BrokenLink, Link, fingerprint, verify_chain
from netnaught.core.seal.content import (
    SealContent,
    SealedEntry,
    SealedLine,
    canonical,
    read_content,
    sealed_entry,
    sealed_line,
)
from netnaught.core.seal.differs import SealDifference, differences
from netnaught.core.seal.disturbances import (
    Acceptance,
    DisturbanceKind,
    Finding,
    Item,
    Present,
    Repair,
    SealedPeriod,
    findings,
    not_as_sealed,
)
from netnaught.core.seal.ledger_shift import LedgerShift, ledger_shift
from netnaught.core.seal.trace import Period, Staircase, staircase

__all__ = [
    "FIRST",
    "Acceptance",
    "BankGap",
    "BankGapCause",
    "BrokenLink",
    "DisturbanceKind",
    "Finding",
    "Item",
    "LedgerShift",
    "Link",
    "Period",
    "Present",
    "Repair",
    "SealContent",
    "SealDifference",
    "SealedEntry",
    "SealedLine",
    "SealedPeriod",
    "Staircase",
    "bank_gap",
    "canonical",
    "differences",
    "findings",
    "fingerprint",
    "ledger_shift",
    "not_as_sealed",
    "read_content",
    "sealed_entry",
    "sealed_line",
    "staircase",
    "verify_chain",
]
