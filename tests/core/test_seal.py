"""The chain of seals: nothing altered, removed or reordered goes unseen."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.seal import Link, fingerprint, verify_chain
from netnaught.core.seal.chain import FIRST


def chain(contents: list[bytes]) -> list[Link]:
    links: list[Link] = []
    previous = FIRST
    for number, content in enumerate(contents, 1):
        digest = fingerprint(content, previous)
        links.append(Link(number, content, previous, digest))
        previous = digest
    return links


@given(st.lists(st.binary(max_size=40), max_size=6))
def test_an_untouched_chain_holds(contents: list[bytes]) -> None:
    assert verify_chain(chain(contents)) == []


@pytest.mark.parametrize("place", [0, 1, 2])
def test_an_altered_content_is_named(place: int) -> None:
    links = chain([b"a", b"b", b"c"])
    links[place] = replace(links[place], content=b"x")
    assert [broken.number for broken in verify_chain(links)] == [place + 1]


def test_a_removed_or_reordered_seal_is_named() -> None:
    links = chain([b"a", b"b", b"c"])
    assert verify_chain([links[0], links[2]])[0].what == "seal 2 is missing before it"
    assert verify_chain([links[0], replace(links[2], number=2), replace(links[1], number=3)])


def test_a_content_altered_with_its_fingerprint_breaks_the_next_link() -> None:
    links = chain([b"a", b"b"])
    links[0] = Link(1, b"x", FIRST, fingerprint(b"x", FIRST))
    assert [broken.number for broken in verify_chain(links)] == [2]
