"""The syntax of OFX: 1.x SGML and 2.x XML, both read into one tree of nodes that know their line.

One strict tokenizer serves both: in SGML a value's closing tag may be left out, in XML it
stands there. Declarations (DTDs, entities) are refused. Why this is our own:
docs/decisions/0002-ofx-reader.md.
"""

from __future__ import annotations

import html
import re
from collections.abc import Iterator
from dataclasses import dataclass, field

from netnaught.formats.progress import EVERY, came_to
from netnaught.formats.reading import LARGEST_FILE, Unreadable

DEEPEST = 40

_HEAD = re.compile(rb"OFXHEADER\s*[:=]|<OFX>", re.I)
_TAG = re.compile(
    r"<(/?)([A-Za-z][A-Za-z0-9._-]*)\s*(/?)>|<\?.*?\?>|<!--.*?-->|<!\[CDATA\[(.*?)\]\]>|<(?![\s\d=])", re.S
)


@dataclass(slots=True)
class Node:
    """An aggregate (children) or a value (text), and the line where it begins."""

    tag: str
    line: int
    text: str = ""
    children: list[Node] = field(default_factory=list)

    def all(self, tag: str) -> list[Node]:
        """Children of that tag."""
        return [child for child in self.children if child.tag == tag]

    def find(self, *path: str) -> Node | None:
        """The only descendant along a path of tags; Unreadable if a step has two."""
        node: Node | None = self
        for tag in path:
            found = node.all(tag) if node else []
            if len(found) > 1:
                raise Unreadable(f"<{tag}> stands twice in <{self.tag}>", line=found[1].line, column=tag)
            node = found[0] if found else None
        return node

    def value(self, *path: str) -> str:
        """The text along a path, empty where there is none."""
        node = self.find(*path)
        return node.text if node else ""

    def every(self, tag: str) -> Iterator[Node]:
        """All descendants of that tag, in file order."""
        for child in self.children:
            if child.tag == tag:
                yield child
            yield from child.every(tag)


def looks_like_ofx(data: bytes) -> bool:
    """Whether the content, whatever its name, begins as an OFX file does."""
    return bool(_HEAD.search(data[:4096]))


def decode_ofx(data: bytes) -> str:
    """Text of an OFX file: UTF-8 where it is, else Windows-1252, the code page its headers name.

    Files that declare US-ASCII and yet hold accented letters come in either; valid UTF-8
    beyond ASCII is practically never anything else.
    """
    if len(data) > LARGEST_FILE:
        raise Unreadable(f"the file is larger than {LARGEST_FILE // 1024 // 1024} MB")
    if b"\x00" in data:
        raise Unreadable("the file holds zero bytes and is no text", line=data[: data.index(b"\x00")].count(b"\n") + 1)
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        try:
            return data.decode("cp1252")
        except UnicodeDecodeError as second:
            bad = f"byte 0x{data[second.start]:02x}"
            raise Unreadable("is neither UTF-8 nor Windows-1252", line=line, value=bad) from None


def parse_ofx(text: str) -> Node:
    """The <OFX> node. Unreadable: declarations, a tag that closes nothing, a file cut short."""
    declared = re.search(r"<!(?!--|\[CDATA\[)", text)
    if declared:
        line = text.count("\n", 0, declared.start()) + 1
        raise Unreadable("declarations (DTD, entities) are not read", line=line, value=text[declared.start() :][:20])
    start = re.search(r"<OFX>", text, re.I)
    if not start:
        raise Unreadable("the file has no <OFX>")
    return _Builder(text, start.start()).build()


class _Builder:
    """Builds the tree in one walk over the tags."""

    def __init__(self, text: str, start: int) -> None:
        self.text = text
        self.at = start
        self.line = text.count("\n", 0, start) + 1
        self.counted = start
        self.root = Node("", self.line)
        self.open = [self.root]

    def build(self) -> Node:
        pending: list[str] = []
        for number, tag in enumerate(_TAG.finditer(self.text, self.at)):
            if number % EVERY == 0:
                came_to("reading the file", self.at, len(self.text))
            pending.append(self.text[self.at : tag.start()])
            self.at = tag.end()
            line = self._line(tag.start())
            if tag[2] is None:
                if tag[4] is not None:
                    pending.append(html.escape(tag[4], quote=False))
                elif len(tag[0]) == 1:
                    raise Unreadable("a tag is not closed", line=line, value=self.text[tag.start() :][:20])
                continue
            self._value("".join(pending), line)
            pending.clear()
            name = tag[2].upper()
            if not tag[1]:
                self._begin(name, line, bool(tag[3]))
            elif self._end(name, line):
                self._refuse_more(tag.end())
                return self.root.children[0]
        raise Unreadable("the file ends before </OFX>: it has been cut short", line=self._line(len(self.text)))

    def _refuse_more(self, after: int) -> None:
        again = re.compile("<OFX>", re.I).search(self.text, after)
        if again:
            line = self._line(again.start())
            raise Unreadable("a second <OFX> follows the first: two files have been joined", line=line)

    def _line(self, position: int) -> int:
        self.line += self.text.count("\n", self.counted, position)
        self.counted = position
        return self.line

    def _value(self, raw: str, line: int) -> None:
        text = raw.strip()
        if not text:
            return
        node = self.open[-1]
        if node.children or node.text or len(self.open) < 2:
            raise Unreadable("text where a tag should stand", line=line, value=text)
        node.text = html.unescape(text) if "&" in text else text

    def _begin(self, name: str, line: int, empty: bool) -> None:
        if self.open[-1].text:
            self.open.pop()
        node = Node(name, line)
        self.open[-1].children.append(node)
        if not empty:
            self.open.append(node)
        if len(self.open) > DEEPEST:
            self._close_empty_values()
            if len(self.open) > DEEPEST:
                raise Unreadable(f"tags stand more than {DEEPEST} deep", line=line, value=name)

    def _close_empty_values(self) -> None:
        """Give back the siblings that empty values, left unclosed, have swallowed."""
        for node in self.open[1:]:
            if node.tag not in _AGGREGATES:
                self._disown(node)
        self.open = [self.root, *(n for n in self.open[1:] if n.tag in _AGGREGATES)]

    def _disown(self, node: Node) -> None:
        parent = self.open[self.open.index(node) - 1]
        parent.children += node.children
        node.children = []

    def _end(self, name: str, line: int) -> bool:
        """Close `name`; values left open inside it end with it. True when the file is done."""
        if all(node.tag != name for node in self.open[1:]):
            raise Unreadable(f"</{name}> closes nothing that is open", line=line, value=name)
        while self.open[-1].tag != name:
            node = self.open.pop()
            if node.children:
                if node.tag in _AGGREGATES:
                    raise Unreadable(f"<{node.tag}> is not closed before </{name}>", line=line, value=name)
                self.open[-1].children += node.children
                node.children = []
        self.open.pop()
        return len(self.open) == 1


# The aggregates of a statement: they are always closed, so one left open means a file cut short
# or spliced. Any other tag without text is an empty value.
_AGGREGATES = frozenset(
    [
        "OFX",
        "SIGNONMSGSRSV1",
        "SONRS",
        "STATUS",
        "FI",
        "BANKMSGSRSV1",
        "CREDITCARDMSGSRSV1",
        "STMTTRNRS",
        "CCSTMTTRNRS",
        "STMTRS",
        "CCSTMTRS",
        "BANKACCTFROM",
        "CCACCTFROM",
        "BANKTRANLIST",
        "STMTTRN",
        "PAYEE",
        "BANKACCTTO",
        "CCACCTTO",
        "CURRENCY",
        "ORIGCURRENCY",
        "LEDGERBAL",
        "AVAILBAL",
        "BALLIST",
        "BAL",
        "INVSTMTMSGSRSV1",
        "SIGNUPMSGSRSV1",
    ]
)
