"""The chain: each seal's fingerprint covers its content and the fingerprint before it."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass

FIRST = "0" * 64


@dataclass(frozen=True, slots=True)
class Link:
    """One seal as stored: its number in the chain, content, and the two fingerprints."""

    number: int
    content: bytes
    previous: str
    sha256: str


@dataclass(frozen=True, slots=True)
class BrokenLink:
    """A seal that does not hold, and why."""

    number: int
    what: str
    content_holds: bool = True


def fingerprint(content: bytes, previous: str | None) -> str:
    """SHA-256, in hex, over the previous fingerprint and the content."""
    return hashlib.sha256((previous or FIRST).encode() + b"\n" + content).hexdigest()


def verify_chain(links: Iterable[Link]) -> list[BrokenLink]:
    """Every link that does not hold: content changed, order changed, a seal missing in between."""
    broken: list[BrokenLink] = []
    expected_number, expected_previous = 1, FIRST
    for link in links:
        if link.number != expected_number:
            broken.append(BrokenLink(link.number, f"seal {expected_number} is missing before it"))
        elif link.previous != expected_previous:
            broken.append(BrokenLink(link.number, "it does not follow the seal before it"))
        if fingerprint(link.content, link.previous) != link.sha256:
            broken.append(BrokenLink(link.number, "its content is not what was sealed", content_holds=False))
        expected_number, expected_previous = link.number + 1, link.sha256
    return broken
