"""Write docs/openapi.json, from which the front end's API types are generated; `--check` fails when it is stale."""

from __future__ import annotations

import json
import sys
import tempfile
from pathlib import Path

from netnaught.api.app import create_app

TARGET = Path(__file__).resolve().parent.parent / "docs" / "openapi.json"


def main(argv: list[str]) -> int:
    """Write the document, or compare it with what is there."""
    with tempfile.TemporaryDirectory() as folder:
        document = json.dumps(create_app(Path(folder)).openapi(), indent=1, sort_keys=True) + "\n"
    if "--check" not in argv:
        TARGET.write_text(document)
        return 0
    if not TARGET.exists() or TARGET.read_text() != document:
        print("docs/openapi.json is stale: run `make api`")
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
