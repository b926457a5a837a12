"""Recording from the Spine: splits with tax, many lines alike, rules that code the next month."""

from __future__ import annotations

from typing import Any

import pytest

from netnaught.services import coding, recording, spine, steps
from netnaught.services.access import Role
from netnaught.services.coding import PartGiven
from netnaught.services.errors import BadInput, Conflict, Forbidden, NotFound
from netnaught.services.recording import Recording
from netnaught.store.coding import Party
from tests.world import World


def journal(world: World, entry: int) -> list[tuple[str, int]]:
    detail = spine.entry_detail(world.ctx, world.company.id, entry)
    return [(part.account.number, part.amount) for part in detail.journal]


def trial_balance(world: World) -> int:
    return int(
        world.db.execute(
            "SELECT coalesce(sum(l.base_amount), 0) FROM journal_line l JOIN journal_entry j ON j.id = l.journal_entry_id"
            " WHERE j.deleted_at IS NULL"
        ).fetchone()[0]
    )


def test_a_line_is_recorded_with_split_tax_and_department_and_undone_exactly(world: World) -> None:
    at = world.read(world.line(-11_900, text="HARBOR STORES"))
    args = (world.ctx, world.company.id)
    department = coding.add_department(*args, "Workboat")
    tax = coding.add_tax_code(*args, "VAT19", 190_000, world.gl["5900"])
    line = world.line_ids(at)["F1"]
    parts = [
        PartGiven(world.gl["5000"], amount=-5_950, tax_code_id=tax, department_id=department, tags=("slip",)),
        PartGiven(world.gl["3000"]),
    ]
    shown = recording.preview(*args, at, line, parts)
    assert [(p.gl_account_id, p.amount) for p in shown] == [
        (world.gl["5000"], -5_000),
        (world.gl["5900"], -950),
        (world.gl["3000"], -5_950),
    ]
    (entry,) = recording.record_lines(*args, at, [line], Recording(tuple(parts), "Stores", "Stores"))
    assert journal(world, entry) == [("1010", -11_900), ("5000", 5_000), ("5900", 950), ("3000", 5_950)]
    assert world.view(at).bench.standing.difference == 0
    with pytest.raises(BadInput, match=r"-59\.50 of -119\.00 is not placed"):
        recording.preview(*args, at, line, parts[:1])
    steps.undo(*args, at)
    assert world.view(at).bench.standing.difference == -11_900
    assert trial_balance(world) == 0
    steps.redo(*args, at)
    assert journal(world, entry)[1:] == [("5000", 5_000), ("5900", 950), ("3000", 5_950)]


def test_many_lines_alike_are_recorded_in_one_step(world: World) -> None:
    at = world.read(*[world.line(-100 * n, text=f"TOLL {n}") for n in (1, 2, 3)], world.line(-9, text="OTHER"))
    args = (world.ctx, world.company.id, at)
    ids = world.line_ids(at)
    how = Recording((PartGiven(world.gl["5000"], share=5000), PartGiven(world.gl["5900"], share=5000)), "Toll", "Tolls")
    made = recording.record_lines(*args, [ids["F1"], ids["F2"], ids["F3"]], how)
    assert [journal(world, entry)[0] for entry in made] == [("1010", -100), ("1010", -200), ("1010", -300)]
    assert world.view(at).undo == "record 3 lines in books"
    steps.undo(*args)
    assert world.view(at).bench.standing.unresolved_out.lines == 4
    with pytest.raises(BadInput, match="No line is named"):
        recording.record_lines(*args, [], how)


def rule(world: World, **more: Any) -> dict[str, Any]:
    return {"name": "Fuel", "text": "fuel", "payee": "Gannet", "shares": [{"gl_account_id": world.gl["5000"]}], **more}


def test_a_rule_made_from_a_line_codes_the_next_month_by_itself(world: World) -> None:
    args = (world.ctx, world.company.id)
    october = world.read(world.line(-700, text="FUEL DOCK"), world.line(-30, text="FUEL SURCHARGE CLUB"))
    first = world.line_ids(october)["F1"]
    recording.record_line(*args, october, first, other_account_id=world.gl["5900"], payee="", memo="")
    tried = coding.try_rule(*args, rule(world))
    assert [(t.line.description, t.was, t.agrees) for t in tried] == [
        ("FUEL SURCHARGE CLUB", "", True),
        ("FUEL DOCK", "Bank charges", False),
    ]
    made = coding.add_rule(*args, rule(world, at_once=True))
    (open_line,) = [row for row in world.view(october).rows if row.kind.value == "line"]
    found = world.view(october).suggestions[int(open_line.lines[0])]
    assert (found.account_id, found.why, found.payee) == (world.gl["5000"], "rule “Fuel”", "Gannet")
    assert recording.run_passes(*args, october, frozenset()) == (0, 1)
    assert coding.list_rules(*args)[0].uses == 1
    assert world.view(october).bench.decisions[-1].why == "recorded at once by rule “Fuel”"
    november = world.read(world.line(-800, "2026-11-06", text="FUEL DOCK 2"), opening=99_270, first="2026-11-01")
    world.entry(-800, "2026-11-05")  # its partner is in the books: matched, not recorded again
    assert recording.run_passes(*args, november, frozenset()) == (1, 0)
    # What was decided stays as it was; switched off, a rule says nothing.
    assert journal(world, int(world.view(october).bench.work.decisions[0].entries[0]))[1] == ("5900", 700)
    coding.write_rule(*args, made, rule(world), False)
    assert coding.list_rules(*args)[0].rule.active is False
    coding.remove_rule(*args, made)
    with pytest.raises(NotFound):
        coding.remove_rule(*args, made)


def test_two_rules_that_disagree_are_shown_and_neither_records_by_itself(world: World) -> None:
    args = (world.ctx, world.company.id)
    at = world.read(world.line(-700, text="FUEL DOCK"))
    one = coding.add_rule(*args, rule(world, at_once=True))
    other = coding.add_rule(*args, rule(world, name="Dock", text="dock", shares=[{"gl_account_id": world.gl["5900"]}]))
    line = world.line_ids(at)["F1"]
    assert world.view(at).suggestions[line].conflict == ("Dock",)
    assert recording.run_passes(*args, at, frozenset()) == (0, 0)
    coding.order_rules(*args, [other, one])
    assert world.view(at).suggestions[line].account_id == world.gl["5900"]
    with pytest.raises(BadInput, match="named exactly once"):
        coding.order_rules(*args, [one])


def test_a_party_s_usual_account_stands_behind_rules_and_what_was_done_before(world: World) -> None:
    args = (world.ctx, world.company.id)
    coding.write_party(*args, Party(0, "Gannet Fuel Dock", world.gl["5000"], None, None))
    at = world.read(world.line(-700, text="POS GANNET FUEL DOCK 17"), world.line(-1, text="GANNET"))
    ids = world.line_ids(at)
    found = world.view(at).suggestions
    assert found[ids["F1"]].why == "what usually goes with Gannet Fuel Dock"
    assert ids["F2"] not in found  # part of the name is not enough
    coding.add_rule(*args, rule(world, name="Rule", shares=[{"gl_account_id": world.gl["5900"]}]))
    assert world.view(at).suggestions[ids["F1"]].why == "rule “Rule”"


def test_bad_rules_and_lists_are_refused_by_the_server(world: World) -> None:
    args = (world.ctx, world.company.id)
    for values, reason in (
        (rule(world, how="pattern", text="("), "The pattern cannot be used"),
        (rule(world, shares=[{"gl_account_id": 999}]), "no such ledger account"),
        (rule(world, shares=[]), "names an account"),
        (rule(world, how="sideways"), "not complete"),
    ):
        with pytest.raises(BadInput, match=reason):
            coding.add_rule(*args, values)
    coding.add_department(*args, "Deck")
    with pytest.raises(Conflict, match="department Deck already"):
        coding.add_department(*args, "Deck")
    with pytest.raises(Forbidden):
        coding.add_rule(world.as_user("vera", Role.VIEWER), world.company.id, rule(world))
