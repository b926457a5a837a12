"""Speed beside a named reference, in the same run: `make bench`. Never part of the tests."""
