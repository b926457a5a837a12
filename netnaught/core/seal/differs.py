"""What one seal says otherwise than another: shown when a period is sealed again."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

Values = dict[str, Any]
# Who and when always differ; what a seal replaces is said beside it.
_ASIDE = frozenset({"sealed_by", "sealed_at", "prepared_by", "replaces"})
_LISTS = ("statements", "lines", "decisions", "cleared", "outstanding")


@dataclass(frozen=True, slots=True)
class SealDifference:
    """One thing that differs. `where`: a figure, or the list it stands in; `id`: of the item; texts as sealed."""

    where: str
    id: int | None
    was: str
    now: str


def differences(old: Values, new: Values) -> list[SealDifference]:
    """All differences between the contents of two seals, figures first."""
    found = list(_plain("", old, new))
    found += _plain("figures.", old["figures"], new["figures"])
    for name in _LISTS:
        found += _lists(name, old[name], new[name])
    return found


def _plain(prefix: str, old: Values, new: Values) -> Iterable[SealDifference]:
    for key in sorted(old.keys() | new.keys()):
        was, now = old.get(key), new.get(key)
        if key not in _ASIDE and was != now and not isinstance(was or now, list | dict):
            yield SealDifference(prefix + key, None, _text(was), _text(now))


def _lists(name: str, old: list[Values], new: list[Values]) -> Iterable[SealDifference]:
    before, after = ({item["id"]: item for item in items} for items in (old, new))
    for ident in sorted(before.keys() | after.keys()):
        was, now = before.get(ident), after.get(ident)
        if was == now:
            continue
        if was is None or now is None:
            yield SealDifference(name, ident, _item(was), _item(now))
            continue
        for key in sorted(was.keys() | now.keys()):
            if was.get(key) != now.get(key):
                yield SealDifference(f"{name}.{key}", ident, _text(was.get(key)), _text(now.get(key)))


def _text(value: object) -> str:
    return "" if value is None else str(value)


def _item(values: Values | None) -> str:
    if values is None:
        return ""
    keep = ("date", "amount", "reference", "payee", "description", "kind")
    return " ".join(str(values[key]) for key in keep if values.get(key))
