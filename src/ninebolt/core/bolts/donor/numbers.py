"""What is written of the donor as it was, held against what its own parts come to."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.running import stock_performance
from ninebolt.core.bolts.donor.compare import before_after
from ninebolt.core.bolts.donor.limits import MADE_OFF, STOCK_OFF, STOCK_RANGE_OFF
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import q


@check(
    "donor.stock_off",
    "what the stock bike was measured to do is not what its parts give",
    parts=("donor.stock",),
)
def stock_off(bike: Bike) -> Iterator[Says]:
    capped = bike.build.donor.stock.cap_m_s.amount
    for row in before_after(bike):
        if not row.stock or not row.measured or math.isnan(row.stock):
            continue
        limit = STOCK_RANGE_OFF if row.label == "Range" else STOCK_OFF
        ratio = row.measured / row.stock
        slow_by_cap = capped is not None and row.quantity == "m_s" and ratio < 1.0
        if 1.0 / limit <= ratio <= limit or slow_by_cap:
            continue
        yield Says(
            "caution",
            f"{row.label} of the stock bike: measured and computed are far apart",
            f"{q(row.measured, row.quantity)} measured, {q(row.stock, row.quantity)} from its stock parts. One of "
            "the two is misread, in another unit, or of another bike; every percentage is of the measured one, and "
            "what the running gear was made for of the computed one.",
            row.measured,
            row.stock,
            row.quantity,
            at=row.label.split(" to ")[0].lower().replace(" ", "_"),
        )


@check(
    "donor.made_off",
    "the running gear is written down as made for far more than the bike had",
    parts=("donor.ratings",),
)
def made_off(bike: Bike) -> Iterator[Says]:
    made, stock = bike.build.donor.ratings, stock_performance(bike)
    if stock is None:
        return
    rows = (
        ("power", "w", made.power_w.amount, stock.headline.peak_wheel_w),
        ("speed", "m_s", made.speed_m_s.amount, stock.headline.top_speed_m_s),
        ("thrust", "n", made.thrust_n.amount, max(stock.envelope.thrust_n)),
    )
    for key, quantity, typed, had in rows:
        if not typed or not had or typed <= MADE_OFF * had:
            continue
        yield Says(
            "caution",
            f"The {key} that the running gear was made for is far above the stock bike's",
            f"{q(typed, quantity)} is written down; as it left the maker it had {q(had, quantity)}. A rating that "
            "is too high lets brakes, chain and mounts pass that were never tried so far. Take it from the maker's "
            "papers, or leave it unknown.",
            typed,
            MADE_OFF * had,
            quantity,
            at=key,
        )
