"""XML read safely: no DTD, no entities, no network, bounded depth; every node knows its line."""

from __future__ import annotations

from typing import Any

from lxml import etree

from netnaught.formats.reading import LARGEST_FILE, Unreadable

DEEPEST = 60
Element = etree._Element


def parse_xml(data: bytes) -> Element:
    """The root element; Unreadable for anything that is not plain, well-formed XML."""
    if len(data) > LARGEST_FILE:
        raise Unreadable(f"the file is larger than {LARGEST_FILE // 1024 // 1024} MB")
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False, recover=False)
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        line = error.lineno if isinstance(error, etree.XMLSyntaxError) else None
        raise Unreadable(f"is no well-formed XML: {str(error).split(', line')[0]}", line=line) from None
    info: Any = root.getroottree().docinfo
    if info.doctype or info.internalDTD is not None:
        raise Unreadable("declarations (DTD, entities) are not read", line=1, value=info.doctype or "<!DOCTYPE")
    return root


def name(node: Element) -> str:
    """The tag without its namespace; empty for comments and instructions."""
    return etree.QName(node).localname if isinstance(node.tag, str) else ""


def children(node: Element, tag: str) -> list[Element]:
    """Children of that local name."""
    return [child for child in node if name(child) == tag]


def find(node: Element | None, *path: str) -> Element | None:
    """The first descendant along a path of local names."""
    for tag in path:
        node = next(iter(children(node, tag)), None) if node is not None else None
    return node


def text(node: Element | None, *path: str) -> str:
    """The text along a path, stripped; empty where there is none."""
    found = find(node, *path)
    return (found.text or "").strip() if found is not None else ""


def line_of(node: Element | None) -> int | None:
    """Where the node begins."""
    line: Any = node.sourceline if node is not None else None
    return int(line) if line else None
