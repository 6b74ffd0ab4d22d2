"""Whole builds: they fit, nothing stops them, they say what they miss, and no random search is better."""

from __future__ import annotations

import dataclasses
import random
from typing import Any

import pytest

from builds import changed
from ninebolt.core.bike.facts import Bike, Shelf
from ninebolt.core.bike.layout import fitted
from ninebolt.core.bolts.assess import assess
from ninebolt.core.build import Build
from ninebolt.core.codec import encode
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.drive import Motor
from ninebolt.core.parts.guard import Isolator
from ninebolt.core.parts.rolling import Chain, Sprocket
from ninebolt.core.value import Value
from ninebolt.errors import InputError
from ninebolt.formats.build_json import build_of
from ninebolt.library.catalogue import items
from ninebolt.services.compose import PAIRS, Choice, chain_for, compose, left_out, room_for
from ninebolt.services.docs import with_changes
from ninebolt.services.house import bundled_shelf
from ninebolt.services.propose import ROLLERS, Hunt, prepared, proposing_steps

WISH: dict[str, Any] = {
    "goal.top_speed_m_s": 25,
    "goal.to_speed_m_s": 16.67,
    "goal.to_time_s": 5,
    "goal.ride_m": 40_000,
}
LOOKS = 1200


def wish(**more: Any) -> Build:
    return changed(Build(name="New"), {**WISH, **more})


@pytest.fixture(scope="module")
def found():  # type: ignore[no-untyped-def]
    *_, last = proposing_steps(wish(), bundled_shelf(), "light", LOOKS)()
    return last


def test_three_voltages_without_a_stop(found) -> None:  # type: ignore[no-untyped-def]
    assert len(found.builds) == 3
    base, _ = prepared(wish(), "light")
    counts = set()
    for w in found.builds:
        made = build_of(with_changes(encode(base), w.changes), "New")
        a = assess(made, None, bundled_shelf())
        assert not a.stops and a.headline == w.headline
        laid = fitted(Bike(made))
        assert laid is not None and laid.capacity >= laid.needed
        counts.add(made.pack.series)
    assert len(counts) == 3


def test_what_is_missed_is_what_the_goal_says(found) -> None:  # type: ignore[no-untyped-def]
    base, _ = prepared(wish(), "light")
    for w in found.builds:
        made = build_of(with_changes(encode(base), w.changes), "New")
        checks = assess(made, None, bundled_shelf()).drawings.goal
        assert checks is not None
        assert [(c.label, c.met) for c in w.checks] == [(c.label, c.met) for c in checks.checks]
        assert (w.gap == 0.0) == all(c.met == "yes" for c in w.checks if c.key != "cost")


def test_the_bill_adds_up_to_its_price(found) -> None:  # type: ignore[no-untyped-def]
    for w in found.builds:
        assert w.money == pytest.approx(sum(line.money or 0.0 for line in w.bill), rel=1e-6)


def test_what_was_assumed_is_said(found) -> None:  # type: ignore[no-untyped-def]
    words = " ".join(found.assumed)
    assert "46 kg" in words and "bay" in words and "tyre" in words


def test_never_worse_than_a_random_search_of_the_same_length() -> None:
    """Same looks, same room, several seeds; by the score that both use."""
    base, _ = prepared(wish(), "light")
    room = room_for(base, bundled_shelf(), (20, 24, 26))
    for seed in (1, 2, 3):
        ours, other = Hunt(base, room, seed), Hunt(base, room, seed + 100)
        for _ in ours.weigh(500):
            pass
        for _ in other.weigh(500, climb=False):
            pass
        assert ours.looked <= 500 and ours.least <= other.least + 1e-9


def test_against_exhaustive_search_on_a_small_shelf() -> None:
    kinds = {k: tuple(i.part for i in items(k)) for k in
             ("bms", "fuse", "isolator", "plug", "cable", "precharge", "dcdc", "charger")}  # fmt: skip
    cells = [i.part for i in items("cell") if i.id in ("np21-45", "np18-25")]
    motors = [i.part for i in items("motor") if i.id in ("md-5", "hb-3")]
    shelf = Shelf({**kinds, "cell": tuple(cells), "motor": tuple(motors),
                   "controller": tuple(i.part for i in items("controller"))[:4]})  # fmt: skip
    base, _ = prepared(wish(), "light")
    room = room_for(base, shelf, (20,))
    ours = Hunt(base, room, 5)
    for _ in ours.weigh(700):
        pass
    all_of = Hunt(base, room, 0)
    for (cell, series), most in room.most_parallel.items():
        for p in range(1, most + 1):
            for m, motor in enumerate(room.motors):
                for c in range(len(room.controllers)):
                    for pair in (None,) if motor.kind == "hub" else PAIRS:
                        all_of.look(Choice(series, cell, p, m, c, pair))
    assert ours.least == pytest.approx(all_of.least, rel=0.02, abs=0.003)


def test_random_choices_compose_within_every_rating() -> None:
    """Line amps under the BMS, the fuse, the plug and the controller; full pack under the ceiling."""
    base, _ = prepared(wish(), "enduro")
    room = room_for(base, bundled_shelf(), (20, 26))
    hunt, seen = Hunt(base, room, 9), 0
    random.seed(9)
    while seen < 60:
        made = compose(room, hunt.draw())
        if made is None:
            continue
        seen += 1
        g, c = made.guard, made.drive.controller
        line = c.line_a.taken
        assert line <= g.bms.i_cont_a.taken and line <= g.fuse.rated_a.taken
        assert g.fuse.rated_a.taken <= g.plug.i_cont_a.taken and line <= c.line_max_a.taken
        assert g.fuse.dc_v.taken >= (made.pack.series or 0) * 4.0


def test_no_wish_is_asked_for() -> None:
    with pytest.raises(InputError, match="no wish"):
        proposing_steps(Build(name="x"), bundled_shelf(), "light")


def test_an_empty_shelf_is_named() -> None:
    with pytest.raises(InputError, match="shelf is empty"):
        proposing_steps(wish(), Shelf({}), "light")


def test_an_unknown_roller_is_named() -> None:
    with pytest.raises(InputError, match="roller"):
        proposing_steps(wish(), bundled_shelf(), "unicycle")


def test_a_bay_that_nothing_enters_says_so() -> None:
    tiny = wish(
        **{"donor.bays": [{"name": "Purse", "length_m": 0.02, "height_m": 0.02, "width_m": 0.02}]}
    )
    steps = proposing_steps(tiny, bundled_shelf(), "light", 200)()
    with pytest.raises(InputError, match="Nothing on the shelf"):
        list(steps)


def test_an_impossible_goal_says_by_how_much_it_is_missed() -> None:
    hard = wish(**{"goal.top_speed_m_s": 80, "goal.ride_m": 900_000})
    *_, last = proposing_steps(hard, bundled_shelf(), "pit", 400)()
    assert last.builds and all(w.gap > 0.5 for w in last.builds)
    assert any(c.met == "no" for c in last.builds[0].checks)


def test_every_roller_computes() -> None:
    for key in ROLLERS:
        *_, last = proposing_steps(wish(), bundled_shelf(), key, 300)()
        assert last.builds, key


def test_a_controller_larger_than_the_path_is_held_down_by_it() -> None:
    """500 A on a shelf whose largest fuse is 300: 0.8 x 300 = 240 line amps. It was left out, so that a bike could only
    be proposed with the small controllers."""
    room = room_for(wish(), bundled_shelf(), (24,))
    wide = next(i for i, c in enumerate(room.controllers) if c.line_max_a.amount == 500)
    cell = next(i for i, c in enumerate(room.cells) if c.name.startswith("21700 power cell 4.5"))
    room.most_parallel[cell, 24] = 20
    motor = next(i for i, m in enumerate(room.motors) if m.name == "Mid-drive 20 kW")
    made = compose(room, Choice(24, cell, 12, motor, wide, (12, 48)))
    assert made is not None and made.drive.controller.line_a.amount == 240
    guard = made.guard
    assert guard.fuse.rated_a.amount == 300
    assert (guard.plug.i_cont_a.amount or 0) >= 300 <= (guard.isolator.i_cont_a.amount or 0)


@pytest.mark.parametrize("pair", [None, (12, 48)])
def test_what_was_of_another_way_to_the_wheel_does_not_stay(pair: tuple[int, int] | None) -> None:
    """A first stage of 2.4 would have made a hub pull 2.4 times; a hub's whole efficiency a chain of none."""
    base = changed(wish(), {"gear.reduction": 2.4, "gear.efficiency": 1.0, "gear.mass_kg": 3.0})
    room = room_for(base, bundled_shelf(), (24,))
    cell = next(i for i, c in enumerate(room.cells) if c.name.startswith("21700 power cell 4.5"))
    room.most_parallel[cell, 24] = 20
    kind = "hub" if pair is None else "mid_drive"
    motor = next(i for i, m in enumerate(room.motors) if m.kind == kind)
    made = next(
        b
        for k in range(len(room.controllers))
        if (b := compose(room, Choice(24, cell, 8, motor, k, pair))) is not None
    )
    assert made.gear.reduction.taken == 1.0
    assert (made.gear.efficiency.taken == 1.0) is (pair is None)


def test_sprockets_and_chain_of_the_shelf_are_in_the_price() -> None:
    """A 12 at 15, its rear one and the cheapest chain that is long enough, as they stand on the shelf. The chain was
    not priced at all."""
    room = room_for(wish(), bundled_shelf(), (24,))
    prices = {
        (i.part.place, i.part.teeth): i.part.price_money.amount
        for i in items("sprocket")
        if isinstance(i.part, Sprocket) and i.part.chain == "420"
    }
    chains = {
        i.part.links: i.part.price_money.amount
        for i in items("chain")
        if isinstance(i.part, Chain) and i.part.chain == "420"
    }
    pair = prices["front", 12] + prices["rear", 48]
    assert room.sprockets["420", 12, 48].amount == pair + chains[110]
    # Links round two sprockets (ISO 606): 2 c/p + (N + n)/2 + ((N - n)/2π)² p/c, which is 130.4 at 0.635 m
    long = room_for(changed(wish(), {"gear.run.centre_m": 0.635}), bundled_shelf(), (24,))
    assert long.sprockets["420", 12, 48].amount == pair + chains[132]
    # and 170 at 0.89 m, which no chain on the shelf has: the pair alone, and the bill says so
    longer = changed(wish(), {"gear.run.centre_m": 0.89})
    assert room_for(longer, bundled_shelf(), (24,)).sprockets["420", 12, 48].amount == pair
    assert chain_for(bundled_shelf(), longer, "420", (12, 48)) is None


def test_sprockets_that_do_not_clear_are_not_weighed() -> None:
    base = changed(wish(), {"gear.run.front_most": 13, "gear.run.rear_most": 48})
    room = room_for(base, bundled_shelf(), (20,))
    assert set(room.pairs) == {(f, r) for f in (12, 13) for r in (40, 44, 48)}
    assert room_for(changed(base, {"gear.run.rear_most": 20}), bundled_shelf(), (20,)).pairs


def test_a_cut_off_follows_the_chemistry_where_a_cell_does_not_say_when_it_is_empty() -> None:
    base, _ = prepared(wish(), "light")
    room = room_for(base, bundled_shelf(), (16, 20))
    k = next(i for i, c in enumerate(room.cells) if c.form != "ready_made")
    cell = dataclasses.replace(room.cells[k], chemistry="manganese_blend", empty_v=Value(None))
    other = dataclasses.replace(room, cells=(*room.cells[:k], cell, *room.cells[k + 1 :]))
    pairs = ((c, m) for c in range(len(room.controllers)) for m in range(len(room.motors)))
    made = [b for c, m in pairs if (b := compose(other, Choice(16, k, 4, m, c, (12, 48))))]
    assert made and {b.drive.controller.lvc_v.amount for b in made} == {16 * 3.0}


def test_what_could_not_be_weighed_is_named(found) -> None:  # type: ignore[no-untyped-def]
    """Cells whose BMSes and chargers are others, and a motor of one's own whose inductance nobody measured."""
    phosphate = [
        c.name for c in bundled_shelf().of("cell", Cell) if c.chemistry == "iron_phosphate"
    ]
    assert phosphate and any(phosphate[0] in w and "another chemistry" in w for w in found.left)
    motors = bundled_shelf().of("motor", Motor)
    bare = dataclasses.replace(motors[0], name="From the barn", l_phase_henry=Value(None))
    shelf = Shelf({**bundled_shelf().kinds, "motor": (*motors, bare)})
    assert any("From the barn (phase inductance)" in w for w in left_out(shelf))


def test_a_wish_that_much_of_the_shelf_meets_comes_at_three_voltages() -> None:
    """Motors of a third of what the pack would give came first, and a stop took two of three away."""
    goal = {"goal.top_speed_m_s": 20, "goal.ride_m": 10_000, "goal.use": "supermoto"}
    *_, last = proposing_steps(changed(Build(name="New"), goal), bundled_shelf(), "enduro", 3000)()
    series = {x["value"]["series"] for w in last.builds for x in w.changes if x["path"] == "pack"}
    assert len(series) == len(last.builds) == 3


@pytest.mark.parametrize(
    ("goal", "roller"),
    [
        ({"goal.top_speed_m_s": 20, "goal.ride_m": 60_000, "goal.use": "stunt"}, "enduro"),
        ({"goal.top_speed_m_s": 20, "goal.ride_m": 30_000, "goal.rider_kg": 110}, "light"),
    ],
)
def test_dangerous_no_plug_that_goes_in_the_wrong_way_round(
    goal: dict[str, Any], roller: str
) -> None:
    """The smallest plug for these amps is not keyed: the next one is taken, and not the wish given up."""
    *_, last = proposing_steps(changed(Build(name="New"), goal), bundled_shelf(), roller, 3000)()
    made = [x for w in last.builds for x in w.changes if x["path"] == "guard"]
    assert len(last.builds) >= 2 and len(made) == len(last.builds)
    assert all(x["value"]["plug"]["keyed"] is True for x in made)


def test_a_contact_that_nobody_can_judge_is_left_out_and_named() -> None:
    """What it carries is on its lid; what it opens, and which way, is not: nothing is proposed with it."""
    barn = Isolator(
        name="From the barn", presence="fitted", kind="contactor", i_cont_a=Value(200.0, "label"),
        dc_v=Value(200.0, "label"), rated_for="DC",
    )  # fmt: skip
    words = " ".join(left_out(Shelf({"isolator": (barn,)})))
    assert "From the barn (breaking capacity, breaking in either direction)" in words
