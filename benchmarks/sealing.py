"""Walking a seal chain against SHA-256 over the same bytes and one scan of the rows."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator

from benchmarks.timing import best, row
from netnaught.core.seal import Link, fingerprint, verify_chain
from netnaught.core.seal.chain import FIRST

ENTRY = b'{"amount":"-148000","date":"2026-10-08","id":1187,"memo":"New rudder bearing","payee":"Coble Yard Slip","reference":"2290"},'


def run() -> Iterator[str]:
    """A chain of 250 seals over a million entries."""
    links: list[Link] = []
    previous = FIRST
    for number in range(1, 251):
        content = ENTRY * 4000
        digest = fingerprint(content, previous)
        links.append(Link(number, content, previous, digest))
        previous = digest
    plain = b"".join(link.content for link in links)
    ours = best(lambda: verify_chain(links))
    yield row(
        "walking the seals of 1,000,000 entries",
        ours,
        "SHA-256 of the same bytes",
        best(lambda: hashlib.sha256(plain).digest()),
        "3x",
    )
