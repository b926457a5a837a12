"""Run every benchmark and print its ratio to the reference."""

from __future__ import annotations

import sys

from benchmarks import browser, matching, proposals, reading, sealing, spine, truth, verifying


def main() -> int:
    """All of them, or those named."""
    wanted = sys.argv[1:]
    for module in (truth, matching, proposals, reading, sealing, verifying, spine, browser):
        if not wanted or module.__name__.rsplit(".", 1)[1] in wanted:
            for row in module.run():
                print(row, flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
