"""Findings on the tyres: speed, load, size, rim, room."""

from __future__ import annotations

from collections.abc import Iterator

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.running import fastest, ridden_body
from ninebolt.core.bolts.gear.chassis import axle_loads, reaches, tyres
from ninebolt.core.bolts.gear.ladder import ladder
from ninebolt.core.bolts.gear.limits import (
    AXLE_WATCH,
    GAP_M,
    OVER_M,
    RADIUS_OFF,
    RIM_LEAST,
    RIM_MOST,
)
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.codec import encode
from ninebolt.core.finding import Change, Fix, Source, q
from ninebolt.core.parts.rolling import Tyre
from ninebolt.core.vehicle.tyre import (
    free_radius,
    is_rim,
    rim_in,
    rolling_radius,
    section_m,
    symbol_speed,
)


@check(
    "gear.tyre",
    "top speed is above a tyre's symbol",
    parts=("gear.tyre",),
    source=Source("memory", "speed symbols of UN R75, from memory"),
)
def speed(bike: Bike) -> list[Says]:
    top, out = fastest(bike), []
    for end, path, tyre in tyres(bike.build.gear):
        stands = symbol_speed(tyre.speed_symbol)
        if top is None or stands is None or top <= stands:
            continue
        out.append(
            Says(
                "stop",
                f"The {end} tyre is not made for this speed",
                f"Symbol {tyre.speed_symbol.upper()} stands {q(stands, 'm_s')}, {reaches(bike)}. Fit a faster tyre, or "
                "gear it down.",
                top,
                stands,
                "m_s",
                parts=(path,),
                at="" if end == "rear" else end,
                fixes=(*_faster(bike, path, tyre, top), *_slower(bike, stands)),
            )
        )
    return out


def _slower(bike: Bike, stands_m_s: float) -> tuple[Fix, ...]:
    """The fastest pair of the ladder that stays within a tyre's symbol."""
    slow = [r for r in ladder(bike) if not r.current and r.top_speed_m_s <= stands_m_s]
    if not slow:
        return ()
    best = max(slow, key=lambda r: r.top_speed_m_s)
    pair = (Change("gear.front_teeth", best.front), Change("gear.rear_teeth", best.rear))
    return (Fix(f"Gear it down to {best.front}/{best.rear}", pair),)


def _faster(bike: Bike, path: str, tyre: Tyre, speed_m_s: float) -> tuple[Fix, ...]:
    """The tyre of the shelf that goes on the same rim, stands the speed and the load, and stands nearest as tall; what
    was measured of the rim and the room stays."""
    rim, tall = rim_in(tyre.code), free_radius(tyre.code.strip())
    if rim is None or tall is None:
        return ()
    kept = ("rim_m", "gap_m", "over_m")
    fits = [
        (abs(height - tall), t)
        for t in bike.shelf.of("tyre", Tyre)
        if rim_in(t.code) == rim
        and (symbol_speed(t.speed_symbol) or 0.0) >= speed_m_s
        and (t.load_index or 0) >= (tyre.load_index or 0)
        and (height := free_radius(t.code.strip())) is not None
    ]
    if not fits:
        return ()
    best = min(fits, key=lambda f: f[0])[1]
    doc = {**encode(best), **{k: encode(getattr(tyre, k)) for k in kept}}
    return (Fix(f"Fit {best.name}", (Change(path, doc),)),)


@check(
    "gear.tyre_load",
    "an axle carries more than its tyre may",
    source=Source("memory", "load indices of ISO 4251 and UN R75, from memory"),
)
def load(bike: Bike) -> Iterator[Says]:
    paths = {end: path for end, path, _ in tyres(bike.build.gear)}
    for axle in axle_loads(bike):
        if axle.carries_kg is None or axle.kg <= AXLE_WATCH * axle.carries_kg:
            continue
        over = axle.kg > axle.carries_kg
        yield Says(
            "stop" if over else "caution",
            f"The {axle.end} tyre carries too much"
            if over
            else f"The {axle.end} tyre is near its load",
            f"{q(axle.kg, 'kg')} on the axle with the rider on; its index stands for {q(axle.carries_kg, 'kg')} "
            "at full pressure. An overloaded tyre heats inside and lets go at speed.",
            axle.kg,
            axle.carries_kg if over else AXLE_WATCH * axle.carries_kg,
            "kg",
            parts=(paths[axle.end],),
            at=axle.end,
        )


@check("gear.tyre_load_open", "a tyre's load index is not read")
def load_open(bike: Bike) -> Iterator[Says]:
    paths = {end: path for end, path, _ in tyres(bike.build.gear)}
    for axle in axle_loads(bike):
        if axle.carries_kg is not None:
            continue
        yield Says(
            "note",
            f"The {axle.end} tyre's load index is not read",
            f"The {axle.end} axle carries {q(axle.kg, 'kg')} with the rider on. The number before the speed letter "
            "says what the tyre stands; many bicycle tyres have none and are made for much less.",
            axle.kg,
            None,
            "kg",
            parts=(paths[axle.end],),
            at="" if axle.end == "rear" else axle.end,
        )


@check(
    "gear.tyre_size",
    "the tyre's size is written in a way that is not understood",
    parts=("gear.tyre",),
)
def size(bike: Bike) -> Says | None:
    tyre = bike.build.gear.tyre
    code = tyre.code.strip()
    if not code or tyre.rolling_radius_m.known or free_radius(code) is not None:
        return None
    what = (
        "That is a rim: its diameter and its width."
        if is_rim(code)
        else "It is read as 110/90-18, 120/70ZR17, 2.75-17 or 26x4.0."
    )
    return Says(
        "caution",
        "The tyre's size is not understood",
        f"'{code[:30]}' gives no radius, and without one no speed. {what} Copy the size off the tyre's "
        "wall, or roll the wheel one turn with the rider on and give the radius.",
    )


@check(
    "gear.radius_off",
    "the measured radius is not that of the tyre whose size is written",
    parts=("gear.tyre",),
)
def radius_off(bike: Bike) -> Iterator[Says]:
    for end, path, tyre in tyres(bike.build.gear):
        rolled, by_size = tyre.rolling_radius_m.amount, rolling_radius(tyre.code.strip())
        if rolled is None or by_size is None or abs(rolled / by_size - 1.0) <= RADIUS_OFF:
            continue
        yield Says(
            "caution",
            f"The {end} tyre's radius and its size do not go together",
            f"Measured {q(rolled, 'm')}, by '{tyre.code.strip()[:20]}' about {q(by_size, 'm')}: another tyre, a "
            "diameter for a radius, or another unit. Speed, thrust and gearing follow the measured one; roll the wheel "
            "one turn with the rider on and divide the way by 2π.",
            abs(rolled / by_size - 1.0),
            RADIUS_OFF,
            parts=(path,),
            at="" if end == "rear" else end,
        )


@check("gear.tyre_unknown", "a tyre's speed symbol is not known", parts=("gear.tyre",))
def unknown(bike: Bike) -> Iterator[Says]:
    top = fastest(bike)
    for end, path, tyre in tyres(bike.build.gear):
        if top is None or ridden_body(bike) is None or symbol_speed(tyre.speed_symbol) is not None:
            continue
        yield Says(
            "caution" if end == "rear" else "note",
            f"The {end} tyre's speed symbol is not known",
            f"{reaches(bike)[0].upper()}{reaches(bike)[1:]}. Read the letter after the size on the wall.",
            top,
            None,
            "m_s",
            parts=(path,),
            at="" if end == "rear" else end,
        )


@check("gear.rim", "a rim is too narrow or too wide for its tyre")
def rim(bike: Bike) -> Iterator[Says]:
    for end, path, tyre in tyres(bike.build.gear):
        wide, inner = section_m(tyre.code.strip()), tyre.rim_m.amount
        if wide is None or inner is None or RIM_LEAST <= inner / wide <= RIM_MOST:
            continue
        narrow = inner / wide < RIM_LEAST
        yield Says(
            "caution",
            f"The {end} rim is too {'narrow' if narrow else 'wide'} for its tyre",
            f"{q(inner, 'm')} inside for a section of {q(wide, 'm')}: from {q(RIM_LEAST * wide, 'm')} to "
            f"{q(RIM_MOST * wide, 'm')} suits it. "
            + (
                "The tyre stands tall and rolls off its edge in a turn."
                if narrow
                else "The tyre lies flat, its bead is pulled outward."
            ),
            inner,
            RIM_LEAST * wide if narrow else RIM_MOST * wide,
            "m",
            parts=(path,),
            at=end,
        )


@check("gear.tyre_room", "a tyre has too little room")
def room(bike: Bike) -> Iterator[Says]:
    for end, path, tyre in tyres(bike.build.gear):
        wide, gap = section_m(tyre.code.strip()), tyre.gap_m.amount
        if wide is None or gap is None or gap - wide >= 2 * GAP_M:
            continue
        rubs = gap <= wide
        yield Says(
            "stop" if rubs else "caution",
            f"The {end} tyre does not fit" if rubs else f"The {end} tyre has little room",
            f"{q(wide, 'm')} of tyre in {q(gap, 'm')}: {q(GAP_M, 'm')} a side are needed, since it grows with "
            "speed and a rim bends. A narrower tyre, or spacers that keep the chain in line.",
            gap - wide,
            2 * GAP_M,
            "m",
            parts=(path,),
            at=end,
        )


@check("gear.tyre_over", "a tyre grows at speed into what is over it")
def over(bike: Bike) -> Iterator[Says]:
    grown = {a.end: a.grown_m for a in axle_loads(bike)}
    for end, path, tyre in tyres(bike.build.gear):
        room_m, more = tyre.over_m.amount, grown.get(end)
        if room_m is None or more is None or room_m - more >= OVER_M:
            continue
        yield Says(
            "stop" if room_m <= more else "caution",
            f"The {end} tyre {'meets' if room_m <= more else 'comes near to'} what is over it at speed",
            f"It stands {q(more, 'm')} taller at top speed, in {q(room_m, 'm')} of room; {q(OVER_M, 'm')} are left "
            "free for stones and a bent rim. Raise what is over it, or fit a lower tyre.",
            room_m,
            more + OVER_M,
            "m",
            parts=(path,),
            at=end,
        )
