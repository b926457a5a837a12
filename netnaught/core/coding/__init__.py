"""Coding: where a statement line goes in the books.

splits   one amount over several accounts, to the exact cent, with tax worked out of it
rules    texts and amounts that say how a line is coded, in their order
"""

from netnaught.core.coding.rules import Coded, Coding, Rule, RuleRefused, TextMatch, WayOfMoney, code
from netnaught.core.coding.splits import Part, Posting, SplitRefused, TaxCode, post, tax_in, tax_on

__all__ = [
    "Coded",
    "Coding",
    "Part",
    "Posting",
    "Rule",
    "RuleRefused",
    "SplitRefused",
    "TaxCode",
    "TextMatch",
    "WayOfMoney",
    "code",
    "post",
    "tax_in",
    "tax_on",
]
