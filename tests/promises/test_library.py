"""The bundled library: wide enough, and each part's values belong together."""

from __future__ import annotations

import math

import pytest

from builds import changed
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.shape import body_of
from ninebolt.core.bolts.register import CHECKS, Says
from ninebolt.core.codec import encode
from ninebolt.core.drive.scaling import BAND, motor_like, rewound
from ninebolt.core.match.fill import body_sizes
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.drive import Controller, Motor
from ninebolt.core.parts.pack import Pack
from ninebolt.core.parts.rolling import Chain, Sprocket
from ninebolt.core.vehicle.chain import PITCH_M, TEETH, TENSILE_N
from ninebolt.library.catalogue import items
from ninebolt.library.demo import brakka

WANTED = {"cell": 20, "motor": 20, "controller": 16, "isolator": 10, "plug": 8, "fuse": 8}
WANTED |= {"cable": 6, "charger": 8, "dcdc": 8, "tyre": 10, "bms": 10, "sprocket": 40, "chain": 6}
MOTORS = [i for i in items("motor") if isinstance(i.part, Motor)]
CELLS = [i for i in items("cell") if isinstance(i.part, Cell)]
CONTROLLERS = [i for i in items("controller") if isinstance(i.part, Controller)]


@pytest.mark.parametrize("kind", sorted(WANTED))
def test_there_are_enough_and_no_two_are_called_alike(kind: str) -> None:
    names = [i.part.name for i in items(kind)]
    assert len(names) >= WANTED[kind] and len(set(names)) == len(names)
    assert len({i.id for i in items(kind)}) == len(names)


@pytest.mark.parametrize("kind", sorted(WANTED))
def test_every_part_says_how_it_was_arrived_at(kind: str) -> None:
    assert all(i.part.source for i in items(kind))


LAWS = (
    "r_phase_ohm", "l_phase_henry", "phase_cont_a", "phase_max_a", "drag_nm", "rotor_kg_m2",
    "winding_j_k", "case_j_k", "winding_case_k_w", "case_air_k_w",
)  # fmt: skip


@pytest.mark.parametrize("item", MOTORS, ids=lambda i: i.id)
def test_a_motor_lies_in_the_band_of_its_class(item) -> None:  # type: ignore[no-untyped-def]
    m = item.part
    like = motor_like(m.kind, m.label_w.taken, m.kv_rpm_v.taken, m.mass_kg.taken)
    for field in LAWS:
        ratio = getattr(m, field).taken / getattr(like, field)
        assert 1 / BAND <= ratio <= BAND, (field, ratio)


def test_sprockets_are_those_that_are_made_and_weigh_what_their_disc_does() -> None:
    """Pitch circle p / sin(π / N) across (ISO 606); steel in front, pierced aluminium behind, within twice."""
    for i in items("sprocket"):
        s = i.part
        assert isinstance(s, Sprocket) and s.teeth
        least_f, most_f, least_r, most_r = TEETH[s.chain]
        low, high = (least_f, most_f) if s.place == "front" else (least_r, most_r)
        assert low <= s.teeth <= high
        disc = math.pi / 4 * (PITCH_M[s.chain] / math.sin(math.pi / s.teeth)) ** 2 * 0.006
        kg = disc * (7850 if s.place == "front" else 2700 * 0.5)
        assert kg / 2 < s.mass_kg.taken < 2 * kg


def test_chains_weigh_what_their_metres_do_and_stand_what_their_size_must() -> None:
    """At least the tensile strength of the size (ISO 10190, from memory); half to one and a half kilograms a metre
    (common practice, no source); an even number of links, so that they close."""
    for i in items("chain"):
        c = i.part
        assert isinstance(c, Chain) and c.links and c.links % 2 == 0
        assert TENSILE_N[c.chain] <= c.stands_n.taken < 2 * TENSILE_N[c.chain]
        assert 0.5 < c.mass_kg.taken / (c.links * PITCH_M[c.chain]) < 1.5


def test_rewinding_keeps_the_iron() -> None:
    """Closed form: KV ∝ 1/N, R ∝ N², amps ∝ 1/N, so torque at the same heat is the same."""
    four = motor_like("hub", 5000, rewound(11, 4, 4))
    five = motor_like("hub", 5000, rewound(11, 4, 5))
    assert five.r_phase_ohm / four.r_phase_ohm == pytest.approx((5 / 4) ** 2)
    assert five.phase_cont_a / four.phase_cont_a == pytest.approx(4 / 5)
    heat = [m.phase_cont_a**2 * m.r_phase_ohm for m in (four, five)]
    assert heat[0] == pytest.approx(heat[1])


# Wh a kilogram of the body and C it gives for good. Ranges of published data sheets, from memory.
SPECIFIC = {
    "nickel_rich": (95, 285),
    "manganese_blend": (90, 220),
    "iron_phosphate": (75, 175),
    "lead_acid": (20, 45),
}


@pytest.mark.parametrize("item", CELLS, ids=lambda i: i.id)
def test_a_cell_s_values_belong_together(item) -> None:  # type: ignore[no-untyped-def]
    c = item.part
    inner = (c.inner_series or 1) * (c.inner_parallel or 1)
    wh = inner * c.capacity_ah.taken * c.nominal_v.taken
    least, most = SPECIFIC[c.chemistry]
    assert least <= wh / c.mass_kg.taken <= most
    assert c.empty_v.taken < c.nominal_v.taken < c.full_v.taken
    assert c.i_cont_a.taken <= c.i_peak_a.taken
    # At its continuous current a cell keeps most of its volts: less than 15 % are lost inside.
    assert c.i_cont_a.taken * c.r0_ohm.taken < 0.15 * c.nominal_v.taken
    if c.heat_j_k.known:
        assert 700 <= c.heat_j_k.taken / c.mass_kg.taken <= 1100
    body = body_of(Pack(cell=c))
    assert body is not None
    litres = 1000 * math.prod(body_sizes(body))
    assert 0.6 <= c.mass_kg.taken / litres <= 3.6  # kg a litre; a round cell in its square


@pytest.mark.parametrize("item", CONTROLLERS, ids=lambda i: i.id)
def test_a_controller_s_values_belong_together(item) -> None:  # type: ignore[no-untyped-def]
    c = item.part
    assert c.v_min_v.taken < c.v_max_v.taken
    assert 1.8 <= c.phase_max_a.taken / c.line_max_a.taken <= 3.0
    assert 0.9e-5 <= c.c_bus_farad.taken / c.line_max_a.taken <= 2.0e-5
    switch_w = 1.5 * c.r_switch_ohm.taken * (c.phase_max_a.taken) ** 2
    assert switch_w < 0.12 * c.line_max_a.taken * c.v_max_v.taken


PLACES = {
    "cell": "pack.cell", "bms": "guard.bms", "isolator": "guard.isolator", "plug": "guard.plug",
    "dcdc": "guard.dcdc", "charger": "guard.charger", "controller": "drive.controller",
    "motor": "drive.motor",
}  # fmt: skip
ASKED_ABOUT = (
    "pack.usual", "pack.peak_off", "pack.cell_order", "guard.usual", "guard.order", "drive.usual", "drive.order",
)  # fmt: skip


@pytest.mark.parametrize("kind", sorted(PLACES))
def test_no_part_that_can_be_bought_is_called_unlike_any(kind: str) -> None:
    """A question about a sound part teaches people to press questions away."""
    for item in items(kind):
        bike = Bike(changed(brakka(), {PLACES[kind]: encode(item.part)}))
        for key in ASKED_ABOUT:
            said = CHECKS[key].ask(bike)
            rows = [] if said is None else [said] if isinstance(said, Says) else list(said)
            assert not rows, f"{item.part.name}: {rows[0].title}"
