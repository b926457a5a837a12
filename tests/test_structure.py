"""The structure that the documents promise: imports point downwards, front doors are true, docs are not stale."""

from __future__ import annotations

import importlib
import json
import pkgutil
import re
import subprocess
import tempfile
from enum import StrEnum
from pathlib import Path

import grimp
import pytest

import netnaught
from netnaught.api.app import create_app
from netnaught.core.matching import PassName
from netnaught.core.reconciliation import DecisionKind
from netnaught.core.ring import RingState
from netnaught.core.statement import LineKind
from netnaught.services.access import Role
from netnaught.store.database import migrations

ROOT = Path(__file__).resolve().parent.parent
LAYERS = (("cli",), ("demo",), ("standins",), ("api",), ("services",), ("store", "formats", "papers"), ("core",))


def layer_of(module: str) -> int:
    part = module.split(".")[1] if "." in module else ""
    return next((n for n, names in enumerate(LAYERS) if part in names), -1)


@pytest.fixture(scope="module")
def graph() -> grimp.ImportGraph:
    return grimp.build_graph("netnaught", include_external_packages=True)


def test_imports_point_downwards_only(graph: grimp.ImportGraph) -> None:
    for module in graph.modules:
        for other in graph.find_modules_directly_imported_by(module):
            if module.startswith("netnaught.") and other.startswith("netnaught."):
                same = module.split(".")[1] == other.split(".")[1]
                assert same or layer_of(module) < layer_of(other), f"{module} imports {other}"


def test_the_core_imports_the_standard_library_itself_and_four_more(graph: grimp.ImportGraph) -> None:
    import sys

    outside = {
        other
        for module in graph.modules
        if module.startswith("netnaught.core")
        for other in graph.find_modules_directly_imported_by(module)
        if not other.startswith("netnaught.core")
    }
    foreign = {name for name in outside if name.split(".")[0] not in sys.stdlib_module_names}
    assert foreign == {"iso4217", "orjson", "re2", "rfc8785"}
    assert "sqlite3" not in outside


def test_only_the_store_speaks_sql() -> None:
    words = re.compile(r"\b(SELECT .+ FROM|INSERT INTO|UPDATE .+ SET|DELETE FROM)\b")
    for path in (ROOT / "netnaught").rglob("*.py"):
        if "store" not in path.parts:
            assert not words.search(path.read_text()), path


def test_front_doors_are_true() -> None:
    for found in pkgutil.walk_packages(netnaught.__path__, "netnaught."):
        module = importlib.import_module(found.name)
        for name in getattr(module, "__all__", ()):
            assert hasattr(module, name), f"{found.name}.{name}"


@pytest.mark.parametrize(
    ("kinds", "column"),
    [(LineKind, "kind"), (DecisionKind, "kind"), (PassName, "pass"), (Role, "role")],
)
def test_closed_lists_are_the_same_in_code_and_schema(kinds: type[StrEnum], column: str) -> None:
    script = "\n".join(text for _, text in migrations())
    lists = re.findall(rf"\b{column} (?:IN|TEXT[^,]*?CHECK \({column} IN) \(([^)]*)\)", script)
    assert {kind.value for kind in kinds} in [set(re.findall(r"'([^']*)'", found)) for found in lists]


def test_closed_lists_are_the_same_in_code_and_browser() -> None:
    schemas = json.loads((ROOT / "docs/openapi.json").read_text())["components"]["schemas"]
    for kinds in (RingState, Role):
        assert set(schemas[kinds.__name__]["enum"]) == {kind.value for kind in kinds}


def test_every_route_and_command_is_in_the_docs() -> None:
    text = "\n".join(path.read_text() for path in (ROOT / "docs").glob("*.md"))
    with tempfile.TemporaryDirectory() as folder:
        operations = [op for methods in create_app(Path(folder)).openapi()["paths"].values() for op in methods.values()]
    missing = [op["operationId"] for op in operations if f"`{op['operationId']}`" not in text]
    assert not missing
    commands = re.findall(r"command\(\"([a-z]+)\"|\(\"([a-z]+)\", _[a-z]+, \"", (ROOT / "netnaught/cli.py").read_text())
    for command in ("user add", *(one or other for one, other in commands)):
        assert f"netnaught {command}" in text, command


def test_every_picture_and_page_that_a_document_links_is_there() -> None:
    for page in (ROOT / "README.md", ROOT / "CONTRIBUTING.md", *(ROOT / "docs").rglob("*.md")):
        for target in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
            assert (page.parent / target).exists(), f"{page.name}: {target}"


def test_generated_files_are_fresh() -> None:
    done = subprocess.run([str(ROOT / ".venv/bin/python"), "tools/openapi.py", "--check"], cwd=ROOT, check=False)
    assert done.returncode == 0
