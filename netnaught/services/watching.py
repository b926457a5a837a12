"""Readings under way, by the name that the person's own screen gave them: to be looked at, and stopped."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from threading import Lock

from netnaught.formats import Progress, Stopped, watching
from netnaught.services.access import Context, Right, company_for
from netnaught.services.errors import Conflict

_lock = Lock()
_under_way: dict[tuple[int, str], Progress] = {}


@contextmanager
def watched(ctx: Context, job: str) -> Iterator[None]:
    """Read inside; Conflict when it was stopped. An empty `job` is not watched."""
    if not job:
        yield
        return
    key, progress = (ctx.user.id, job), Progress()
    with _lock:
        if key in _under_way:
            raise Conflict("A reading of that name is under way already. Nothing was stored.")
        _under_way[key] = progress
    try:
        with watching(progress):
            yield
    except Stopped:
        raise Conflict("The reading was cancelled. Nothing was stored.") from None
    finally:
        with _lock:
            del _under_way[key]


def progress_of(ctx: Context, company_id: int, job: str) -> Progress | None:
    """How far a reading of this person's has come; None when there is none under way."""
    company_for(ctx, company_id)
    with _lock:
        return _under_way.get((ctx.user.id, job))


def stop(ctx: Context, company_id: int, job: str) -> None:
    """Stop a reading of this person's at its next step; nothing happens when it is done already."""
    company_for(ctx, company_id, Right.PREPARE)
    progress = progress_of(ctx, company_id, job)
    if progress is not None:
        progress.stopped = True
