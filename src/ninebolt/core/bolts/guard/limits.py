"""What the Guard bolt judges by."""

from __future__ import annotations

from ninebolt.core.finding import Source
from ninebolt.core.guard.isolation import JOINED_OHM_PER_V, MIN_OHM_PER_V
from ninebolt.core.limits import Limit

ISO_DC = Source("standard", "UN R100 / R136, ISO 6469-3: at least 100 Ω/V for DC alone")
ISO_JOINED = Source(
    "standard", "UN R100 / R136, ISO 6469-3: 500 Ω/V with the inverter joined, AC side unprotected"
)

# BMS
BMS_TOO_LARGE = Limit(2.5, "ratio", "BMS over the cells' continuous current: protects nothing")
FULL_RANGE = Limit(
    1.6, "ratio", "current over rating at which a full-range fuse has opened within its conventional time "
    "(IEC 60269, from memory)"
)  # fmt: skip
PAST_FULL_V = Limit(0.08, "v", "room above full before a BMS opens")
READING_V = Limit(0.005, "v", "how near to full a BMS's upper limit may lie")
DEEP_V = Limit(0.35, "v", "room below empty before a BMS opens")
ABOVE_OPENING_V = Limit(0.1, "v", "the controller's cut-off above the BMS's, per cell")
PAST_HOT_K = Limit(5.0, "k", "room above the cells' limit before a BMS opens")
BALANCE_S = Limit(48 * 3600.0, "s", "a tenth of the pack is balanced within two days")
LOAD_TEST_S = Limit(600.0, "s", "length of an altered board's load test")
BOARD_HOT_C = Limit(90.0, "c", "hottest spot of an altered board under load")
TRIP_TEST_SHARE = Limit(1.2, "ratio", "an altered board's measured trip over what it should be")

# Fuse
BARE_M = Limit(0.20, "m", "lead between pole and fuse, protected by nothing")
OVER_WEAKEST = Limit(1.6, "ratio", "fuse over plug or isolator from where on it protects neither")

# Isolator, plug
COIL_SHARE = Limit(0.25, "ratio", "how far a coil's voltage may stand off its feed")
PLUG_WARM_K = Limit(50.0, "k", "a contact's rise at the used current: look at it")
PLUG_HOT_K = Limit(90.0, "k", "a contact's rise at the used current: it melts")

CONTACT_V = Limit(0.1, "v", "drop of a sound contact or fuse at its rated current, most")
CONTACT_WORN = Limit(4.0, "ratio", "times that drop: worn, loose, or misread")
BURNT_C = Limit(300.0, "c", "any insulation is gone; hotter than that no number is worth saying")
INSULATION_C = Limit(180.0, "c", "insulation of a silicone lead, the best that is usual")
PVC_C = Limit(70.0, "c", "conductor temperature that plain PVC insulation stands")

# Precharge
FILLED = Limit(0.95, "ratio", "share of the pack that the capacitors stand at before closing")
AS_NONE = Limit(0.5, "ratio", "share filled below which a contactor closes as without precharge")
FILL_S = Limit(5.0, "s", "longest wait for that")
FILL_LEAST_S = Limit(0.3, "s", "shortest fill worth aiming at")
PULSE_W = Limit(10.0, "ratio", "times its rating a wire-wound resistor stands for a second")
HELD_DOWN = Limit(0.9, "ratio", "share below which a load behind the resistor defeats it")

# Charger, converter
SAME_V = Limit(0.006, "ratio", "how near a charger's end voltage lies to full")
LONG_LIFE_V = (
    Limit(4.00, "v", "charged to a cell for a long life, lower end"),
    Limit(4.11, "v", "the same, upper end"),
)
LONG_CHARGE_S = Limit(
    43_200.0, "s", "a charge longer than a night: nobody is beside it all the time"
)
OUTLET_SHARE = Limit(0.8, "ratio", "of an outlet's current, for hours on end")
CONVERTER_SHARE = Limit(0.8, "ratio", "of a converter's power in steady use")
WITH_BATTERY_V = (
    Limit(13.5, "v", "charges a 12 V battery, lower end"),
    Limit(13.8, "v", "the same, upper end"),
)
WITHOUT_BATTERY_V = (
    Limit(11.8, "v", "lamps and horn alone, lower end"),
    Limit(12.6, "v", "the same, upper end"),
)
NO_TWELVE_V = (
    Limit(10.0, "v", "least that still is a 12 V side"),
    Limit(16.0, "v", "most that what is made for 12 V stands"),
)
SET_V = Limit(12.0, "v", "lamps and horn alone, to be set")
TRIM_V = Limit(0.05, "v", "how fine a converter can be set")

# Isolation
READ_MORE = Limit(1.05, "ratio", "what two meter readings of one voltage may stand apart")
DC_ALONE = Limit(MIN_OHM_PER_V, "ratio", "ohms per volt, DC side alone", ISO_DC)
JOINED = Limit(JOINED_OHM_PER_V, "ratio", "ohms per volt, inverter joined", ISO_JOINED)

BREAKING_A = (10_000.0, 20_000.0, 30_000.0, 50_000.0, 100_000.0)  # usual capacities of DC fuses
VOLTS_DC = (80.0, 100.0, 125.0, 150.0, 250.0, 500.0, 1000.0)  # usual DC ratings
FUSES_A = (
    30.0, 40.0, 50.0, 60.0, 80.0, 100.0, 125.0, 150.0, 175.0, 200.0, 225.0, 250.0, 300.0, 350.0,
    400.0, 500.0, 600.0,
)  # fmt: skip
RESISTORS_OHM = (33.0, 47.0, 68.0, 100.0, 150.0, 220.0, 330.0, 470.0, 680.0, 1000.0)  # E6 series
RESISTORS_W = (10.0, 25.0, 50.0, 100.0)  # usual wire-wound sizes
