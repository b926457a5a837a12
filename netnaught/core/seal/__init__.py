"""Seals: content-hashed snapshots of a finished reconciliation, chained per bank account."""

from netnaught.core.seal.chain import BrokenLink, Link, fingerprint, verify_chain
from netnaught.core.seal.content import SealContent, SealedEntry, SealedLine, canonical

__all__ = [
    "BrokenLink",
    "Link",
    "SealContent",
    "SealedEntry",
    "SealedLine",
    "canonical",
    "fingerprint",
    "verify_chain",
]
