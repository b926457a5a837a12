"""Net Naught: bank, card and cash accounts reconciled to a difference of exactly zero."""

__version__ = "0.1.0"
