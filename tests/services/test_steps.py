"""Undo takes back exactly what was done, whatever was done, and redo does it again."""

from __future__ import annotations

import tempfile
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from netnaught.services import deciding, recording, steps
from netnaught.services.errors import ServiceError
from tests.world import World, found_world

ACTS = ("match", "pass", "record", "correct", "unmatch")


def _act(world: World, at: int, act: str, pick: int) -> None:
    view = world.view(at)
    decided = {i for d in view.bench.work.decisions for i in d.lines}
    cleared = {i for d in view.bench.work.decisions for i in d.entries}
    lines = [int(x.id) for x in view.bench.work.lines if x.id not in decided]
    entries = [int(e.id) for e in view.bench.work.entries if e.id not in cleared]
    made = [d.id for d in view.bench.decisions]
    args = (world.ctx, world.company.id, at)
    if act == "pass":
        deciding.apply_passes(*args, frozenset())
    elif act == "unmatch" and made:
        deciding.withdraw(*args, [made[pick % len(made)]])
    elif act == "record" and lines:
        line = lines[pick % len(lines)]
        recording.record_line(*args, line, other_account_id=world.gl["5900"], payee="P", memo="")
    elif lines and entries and act == "match":
        deciding.match(*args, [lines[pick % len(lines)]], [entries[pick % len(entries)]])
    elif lines and entries and act == "correct":
        recording.correct_to_line(*args, lines[pick % len(lines)], entries[pick % len(entries)])


def _state(world: World, at: int) -> object:
    bench = world.view(at).bench
    made = {(d.decision.kind, d.decision.lines, d.decision.entries) for d in bench.decisions}
    return bench.standing, bench.gl_balance, bench.book_footing, bench.work.entries, made


@settings(max_examples=15)
@given(st.lists(st.tuples(st.sampled_from(ACTS), st.integers(0, 5)), max_size=8))
def test_any_sequence_is_undone_step_by_step_and_done_again(acts: list[tuple[str, int]]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        world = found_world(Path(folder))
        for amount in (-500, -700, -700, 900):
            world.entry(amount)
        at = world.read(*(world.line(amount) for amount in (-500, -700, 900, -2_750)))
        states = [_state(world, at)]
        for act, pick in acts:
            try:
                _act(world, at, act, pick)
            except ServiceError:
                assert _state(world, at) == states[-1], "a refused act changes nothing"
                continue
            if _state(world, at) != states[-1]:
                states.append(_state(world, at))
        for before in reversed(states[:-1]):
            steps.undo(world.ctx, world.company.id, at)
            assert _state(world, at) == before
        for after in states[1:]:
            steps.redo(world.ctx, world.company.id, at)
            assert _state(world, at) == after
        world.db.close()
