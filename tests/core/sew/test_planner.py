"""The least walking on invented graphs small enough to try every order, and on shapes whose answer is plain."""

from itertools import permutations

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.model import PLACES, Doing, Need, Operation, Step
from rowanseed.core.sew.order import runs, step_for_piece
from rowanseed.core.sew.place_changes import fewest_changes
from rowanseed.core.sew.planner import Prices, cost_of, plan


def operation(name, title, place, phase="flat", unit="body", **setting):
    return Operation(name, name, "join", unit, "shell", (), Doing(title, place, phase, 5, **setting))


def item(name, place, *needs, **more):
    return operation(name, f"Do {name}", place, **more), tuple(Need(n, "It has to be so.", "parts") for n in needs)


def by_trying(todo):
    """The fewest changes over all permutations that keep every need."""
    best = None
    for order in permutations(todo):
        done = set()
        if all(all(n.id in done for n in needs) and not done.add(op.id) for op, needs in order):
            changes = sum(a[0].place != b[0].place for a, b in zip(order, order[1:], strict=False))
            best = changes if best is None else min(best, changes)
    return best


@settings(max_examples=120, deadline=None)
@given(st.lists(st.tuples(st.sampled_from(PLACES[:3]), st.sets(st.integers(0, 5), max_size=2)), min_size=1, max_size=6))
def test_no_order_has_fewer_changes_than_the_proof_says(graph):
    todo = [item(f"s{k}", place, *(f"s{n}" for n in needs if n < k)) for k, (place, needs) in enumerate(graph)]
    found = fewest_changes(todo)
    assert found.proved and found.changes == by_trying(todo)
    laid = plan(todo)
    assert laid.bound == 2 * found.changes <= laid.cost
    done = set()
    for op, needs in laid.items:
        assert all(n.id in done for n in needs)
        done.add(op.id)


def cheapest_by_trying(todo):
    done_first = [order for order in permutations(todo) if _keeps(order)]
    return min(cost_of([op for op, _ in order]) for order in done_first)


def _keeps(order):
    done = set()
    return all(all(n.id in done for n in needs) and not done.add(op.id) for op, needs in order)


@settings(max_examples=100, deadline=None)
@given(st.lists(
    st.tuples(st.sampled_from(PLACES[1:3]), st.sampled_from(("body", "sleeve")), st.sampled_from(("", "zip foot")),
              st.sets(st.integers(0, 5), max_size=2)),
    min_size=1, max_size=6,
))  # fmt: skip
@example([  # what stands in the machine matters even while one is at the iron
    ("iron", "body", "", set()), ("iron", "body", "", set()), ("machine", "body", "", set()),
    ("machine", "body", "zip foot", set()), ("iron", "body", "", {2}), ("machine", "sleeve", "", {0}),
])  # fmt: skip
def test_on_small_garments_the_order_costs_no_more_than_any_other(graph):
    todo = [
        item(f"s{k}", place, *(f"s{n}" for n in needs if n < k), unit=unit, foot=foot)
        for k, (place, unit, foot, needs) in enumerate(graph)
    ]
    laid = plan(todo)
    assert laid.cost == pytest.approx(cheapest_by_trying(todo)) and laid.bound <= laid.cost + 1e-9


def test_a_change_has_its_price():
    # A place costs 2 minutes, a unit 1, a foot half a minute: machine, iron and back, another unit, another foot.
    order = [operation("a", "A", "machine"), operation("b", "B", "iron"), operation("c", "C", "machine", unit="sleeve"),
             operation("d", "D", "machine", unit="sleeve", foot="zip foot")]  # fmt: skip
    assert cost_of(order, Prices()) == 2 + 2 + 1 + 0.5


def test_unit_by_unit_finishes_a_unit_before_the_next():
    both = [(unit, k) for unit in ("body", "sleeve") for k in range(4)]
    todo = [item(f"{unit}{k}", PLACES[k % 2], *([f"{unit}{k - 1}"] if k else []), unit=unit) for unit, k in both]
    units = [op.unit for op, _ in plan(todo, "units").items]
    assert units == sorted(units) or units == sorted(units, reverse=True)
    assert sum(a != b for a, b in zip(units, units[1:], strict=False)) == 1


def test_a_chain_between_two_places_changes_at_every_link():
    todo = [item(f"s{k}", PLACES[k % 2], *([f"s{k - 1}"] if k else [])) for k in range(9)]
    assert fewest_changes(todo).changes == 8


def test_free_steps_are_done_place_by_place():
    todo = [item(f"s{k}", PLACES[k % 5]) for k in range(20)]
    assert fewest_changes(todo).changes == 4


def test_needs_in_a_circle_are_refused_with_their_names():
    todo = [item("a", "iron", "b"), item("b", "machine", "a")]
    with pytest.raises(FeatureError, match="circle"):
        plan(todo)
    assert fewest_changes([]).proved


def test_a_search_that_gives_up_still_answers_an_order_and_says_that_it_is_not_proved():
    todo = [item(f"s{k}", PLACES[k % 5], *([f"s{k - 7}"] if k >= 7 else [])) for k in range(60)]
    hasty = fewest_changes(todo, most_states=2)
    assert hasty.changes >= fewest_changes(todo).changes and (
        not hasty.proved or hasty.changes == fewest_changes(todo).changes
    )


def steps(*todo):
    return [Step(op, needs, {}, {}) for op, needs in todo]


def test_runs_at_one_place_are_counted_and_sewing_of_one_kind_is_chained():
    found = runs(steps(
        item("staystitch-neck", "machine"), item("staystitch-armholes", "machine"), item("press-it", "iron"),
        item("mark-hem", "table"), item("cut-it", "table"),
    ))  # fmt: skip
    assert found["staystitch-neck"].count == 2 and found["staystitch-neck"].chained
    assert found["mark-hem"].count == 2 and not found["mark-hem"].chained and "press-it" not in found


def test_the_step_of_a_piece_is_found_by_its_name():
    own = [Step(operation("mark", "Mark every piece", "table"), (), {}, {}),
           Step(operation("set", "Set the sleeves in", "machine"), (), {}, {})]  # fmt: skip
    assert (
        step_for_piece(own, "Sleeve") == "set"
        and step_for_piece(own, "Godet") == "mark"
        and step_for_piece([], "x") == ""
    )
