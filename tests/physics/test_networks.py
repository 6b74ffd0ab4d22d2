"""Pack, path and joints as networks of nodes, solved by numpy: Kirchhoff's laws, nothing else."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.linalg import eigvals

from ninebolt.core.battery.joining import join, level_time_s
from ninebolt.core.battery.sag import current_limit, max_power, volts_at_power
from ninebolt.core.bolts.assess import Assessment, assess
from ninebolt.core.build import Build
from ninebolt.core.guard.precharge import fill_energy_j, time_to_share_s, with_load
from ninebolt.library.demo import DEMOS

COPPER_20 = 1.7241e-8  # annealed copper at 20 °C, IEC 60028
LAY = 1.02  # strands are longer than their cable; common practice, no source


class Network:
    """Resistors and batteries between numbered nodes; node 0 is the return."""

    def __init__(self) -> None:
        self.parts: list[tuple[int, int, float, float]] = []

    def add(self, a: int, b: int, ohm: float, emf: float = 0.0) -> None:
        """A resistance from a to b, with a battery in series whose plus looks at b."""
        self.parts.append((a, b, ohm, emf))

    def solve(self, drawn: dict[int, float]) -> np.ndarray:
        """Volts of all nodes with a current drawn from some of them to the return."""
        n = 1 + max(max(a, b) for a, b, _, _ in self.parts)
        g, i = np.zeros((n, n)), np.zeros(n)
        for a, b, ohm, emf in self.parts:
            g[[a, b], [a, b]] += 1 / ohm
            g[[a, b], [b, a]] -= 1 / ohm
            i[a] -= emf / ohm
            i[b] += emf / ohm
        for node, amps in drawn.items():
            i[node] -= amps
        out = np.zeros(n)
        out[1:] = np.linalg.solve(g[1:, 1:], i[1:])
        return out

    def amps(self, volts: np.ndarray) -> list[float]:
        """Current through each part, from a to b."""
        return [(volts[a] - volts[b] + emf) / ohm for a, b, ohm, emf in self.parts]


def figure(a: Assessment, bolt: str, key: str) -> float:
    value = next(f.value for f in a.bolt(bolt).figures if f.key == key)
    assert value is not None
    return value


def strips_ohm(build: Build) -> float | None:
    """Of all steps: as given, or measured strips over a guess; copper of IEC 60028, 1/58 Ω mm²/m, one strip a
    cell, from cell to cell."""
    pack = build.pack
    width, thick, pitch = (
        pack.strips.width_m.amount,
        pack.strips.thick_m.amount,
        pack.pitch_m.amount,
    )
    if width is None or thick is None or pitch is None or pack.interconnect_ohm.origin != "guess":
        return pack.interconnect_ohm.amount
    assert pack.series and pack.parallel and pack.strips.metal == "copper"
    return (pack.series - 1) * pitch / (58e6 * width * thick) / pack.parallel


def whole_path(build: Build, cell_v: float) -> tuple[Network, int]:
    """Every cell of the pack and every link to the controller, each a resistor of its own; returns
    the node at the controller."""
    pack, guard = build.pack, build.guard
    net, node = Network(), 0
    cell_ohm = pack.cell.r0_ohm.amount
    assert pack.series and pack.parallel and cell_ohm is not None
    for _ in range(pack.series):
        for _ in range(pack.parallel):
            net.add(node, node + 1, cell_ohm, cell_v)
        node += 1
    links = [strips_ohm(build)]
    for part in (guard.bms, guard.fuse, guard.isolator, guard.plug):
        links.append(part.r_ohm.amount)
    cable = guard.cable
    if cable.section_m2.amount and cable.length_m.amount:
        one_way = COPPER_20 * LAY * cable.length_m.amount / cable.section_m2.amount
        links += [one_way, one_way]  # there and back
    for ohm in links:
        if ohm:
            net.add(node, node + 1, ohm)
            node += 1
    return net, node


@pytest.mark.parametrize("name", ["brakka-96"])
@pytest.mark.parametrize("amps", [0.0, 40.0, 250.0])
def test_the_whole_path_from_cell_to_controller(name: str, amps: float) -> None:
    """312 cells and 7 links by node voltages: the sag is the current times the figures' sum."""
    build = DEMOS[name]()
    net, end = whole_path(build, 4.0)
    volts = net.solve({end: amps})
    a = assess(build)
    total = figure(a, "pack", "r") + figure(a, "guard", "path_ohm")
    assert volts[end] == pytest.approx(26 * 4.0 - amps * total, rel=1e-6)
    each = net.amps(volts)[: 26 * 12]
    assert each == pytest.approx([amps / 12] * 312, abs=1e-9)


def test_a_short_right_behind_the_fuse_is_what_the_fuse_must_break() -> None:
    """All cells full, the far end of the fuse tied to the return by a microohm: the network's
    current is the figure, and no short further along the path is larger."""
    build = DEMOS["brakka-96"]()
    stated = figure(assess(build), "guard", "short")
    currents = []
    for behind in range(26 + 1, 26 + 8):
        net, end = whole_path(build, 4.2)
        at = (26, *range(26 + 1, end + 1))[behind - 26]
        net.add(at, 0, 1e-6)
        currents.append(net.amps(net.solve({}))[-1])
    with_bms = currents[2]  # interconnects, BMS, fuse
    assert max(currents[1:]) <= stated * (1 + 1e-3)
    assert with_bms == pytest.approx(stated, rel=0.01)


@given(
    st.lists(st.tuples(st.floats(0.005, 0.08), st.floats(3.4, 4.1)), min_size=2, max_size=2),
    st.floats(0, 60),
)
def test_two_packs_share_a_load_as_the_network_says(
    packs: list[tuple[float, float]], amps: float
) -> None:
    """Before any load the peak flows between them; under load the change of each is its share."""
    (r1, v1), (r2, v2) = packs
    net = Network()
    net.add(0, 1, r1, 20 * v1)
    net.add(0, 1, r2, 20 * v2)
    got = join(20 * (v1 - v2), r1, r2, 900.0, 700.0)
    idle = net.amps(net.solve({}))
    assert abs(idle[0]) == pytest.approx(got.peak_a, rel=1e-9, abs=1e-9)
    loaded = net.amps(net.solve({1: amps}))
    assert loaded[0] - idle[0] == pytest.approx(got.share * amps, rel=1e-9, abs=1e-9)


@given(st.floats(0.01, 2), st.floats(0.01, 2), st.floats(100, 4000), st.floats(100, 4000))
def test_levelling_decays_with_the_eigenvalue_of_the_circuit(
    r1: float, r2: float, c1: float, c2: float
) -> None:
    """dV1/dt = -(V1 - V2) / (R C1), dV2/dt = +(V1 - V2) / (R C2): eigenvalues 0 and -1/tau."""
    r = r1 + r2
    rates = eigvals(np.array([[-1 / (r * c1), 1 / (r * c1)], [1 / (r * c2), -1 / (r * c2)]]))
    slow, fast = sorted(rates.real, key=abs)
    got = join(3.0, r1, r2, c1, c2)
    assert got.tau_s == pytest.approx(-1 / fast, rel=1e-6)
    assert slow == pytest.approx(0.0, abs=1e-9)
    both = c1 * c2 / (c1 + c2)
    assert level_time_s(3.0, 0.03, r, both) == pytest.approx(got.tau_s * math.log(100))


@given(st.floats(40, 130), st.floats(0.005, 0.2), st.floats(0, 60_000))
def test_volts_at_a_power_close_the_loop(e: float, r: float, power: float) -> None:
    """A network with the current that follows gives the power back; none beyond E²/4R."""
    v = volts_at_power(e, r, power)
    if v is None:
        assert power > e * e / (4 * r) * (1 - 1e-9)
        return
    net = Network()
    net.add(0, 1, r, e)
    at = net.solve({1: power / v})[1]
    assert at == pytest.approx(v, rel=1e-9)
    assert v >= e / 2 - 1e-9


@given(st.floats(40, 130), st.floats(0.005, 0.2), st.floats(5, 800), st.floats(0.4, 0.98))
def test_no_current_gives_more_than_the_most(e: float, r: float, limit: float, low: float) -> None:
    """Every current that keeps limit and floor, tried one by one."""
    floor = low * e
    best = max_power(e, r, limit, floor)
    amps = np.linspace(0, min(limit, current_limit(e, r, floor)), 400)
    tried = (e - amps * r) * amps
    assert best >= tried.max() - 1e-6 * best
    assert best <= tried.max() * (1 + 1e-3) + 1e-9


# Filling the controller's capacitors


@given(st.floats(10, 400), st.floats(5e-4, 2e-2), st.floats(40, 120))
def test_precharge_against_an_integrator(r: float, c: float, e: float) -> None:
    """R and C from empty: time to 95 %, and the heat in the resistor on the way to the end."""
    done = solve_ivp(
        lambda t, y: [(e - y[0]) / (r * c), (e - y[0]) ** 2 / r],
        (0, 20 * r * c),
        [0.0, 0.0],
        dense_output=True,
        rtol=1e-9,
        atol=1e-9,
    )
    at = time_to_share_s(r, c, 0.95)
    assert done.sol(at)[0] == pytest.approx(0.95 * e, rel=1e-5)
    assert done.y[1, -1] == pytest.approx(fill_energy_j(c, e), rel=1e-5)


@pytest.mark.parametrize("load", [5.0, 12.0, 18.0, 40.0])
def test_a_converter_that_is_on_too_early(load: float) -> None:
    """The capacitors fill through 100 ohm while a converter of constant power starts at 40 V.
    Where two voltages balance, it starts above the lower one and settles at the upper; where none
    does, it hangs about its threshold and the resistor cooks for good."""
    e, r, c, starts = 84.0, 100.0, 0.002, 40.0

    def rate(t: float, y: list[float]) -> list[float]:
        draw = load / y[0] if y[0] > starts else 0.0
        return [((e - y[0]) / r - draw) / c]

    done = solve_ivp(rate, (0, 40 * r * c), [0.0], max_step=0.002)
    end = done.y[0, -200:].mean()
    got = with_load(r, e, load)
    if got.share > 0:
        assert end / e == pytest.approx(got.share, abs=0.01)
        assert got.stays_w == pytest.approx((e - end) ** 2 / r, rel=0.03)
    else:
        assert end == pytest.approx(starts, abs=2.0)
        assert (e - end) ** 2 / r < got.stays_w  # the stated figure is on the safe side
