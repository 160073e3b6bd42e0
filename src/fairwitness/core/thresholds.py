"""Every limit of the trade once, with its unit and where it comes from.

Source tags: [P: ...] published, [T] common practice without a source, [M] from memory, to be checked.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Threshold:
    """One limit."""

    value: float
    unit: str
    source: str


# Cranking, battery, capture
CRANKING_VOLT_MIN = Threshold(9.6, "V", "[T] cranking below about 9.6 V: stop")
RESTED_VOLT_MIN = Threshold(12.4, "V", "[T] rested below about 12.4 V: charge first")
CRANKING_RPM_UNUSABLE = Threshold(110.0, "rpm", "[M] well under the usual 150 rpm, humps merge with the battery's sag")
CRANKING_RPM_LOW = Threshold(150.0, "rpm", "[T] usual cranking speed starts at 150 rpm")
CRANKING_RPM_HIGH = Threshold(350.0, "rpm", "[T] usual cranking speed ends at 300 rpm; a margin for small engines [M]")
CRANKING_RPM_SEARCH_MIN = Threshold(75.0, "rpm", "[M] slowest speed looked for without a sync")
CRANKING_RPM_SEARCH_MAX = Threshold(420.0, "rpm", "[M] fastest speed looked for without a sync")
CRANKING_SPEED_DROP_MAX = Threshold(0.22, "1", "[M] speed lost between the first and last third of a crank")
ENGINE_STARTED_RPM = Threshold(450.0, "rpm", "[M] above any starter's reach: the engine is firing")
CRANKING_CYCLES_MIN = Threshold(4, "cycles", "[M] fewer do not show a spread")
CRANKING_CYCLES_FEW = Threshold(6, "cycles", "[M] below this the spread itself is uncertain")
CRANKING_ENOUGH_S = Threshold(4.0, "s", "[M] any engine that turns makes four cycles in this time")
INRUSH_DROP_S = Threshold(0.35, "s", "[T] locked-rotor inrush, dropped before measuring")
HUMP_SAMPLES_MIN = Threshold(10, "samples", "[M] samples per compression hump needed to find its crest")
HUMP_SAMPLES_FEW = Threshold(20, "samples", "[M] below this a caution is shown")
CLAMP_ZERO_MAX_A = Threshold(5.0, "A", "[M] resting current above this is a clamp that was not zeroed")
CLIPPED_SHARE_MIN = Threshold(0.03, "1", "[M] share of steady samples standing at the ceiling")
CLIPPED_TOP_BIN_RATIO = Threshold(3.5, "1", "[M] a sine puts about 2.4 times the next level's samples in its top level")
SPIKE_SIGMA = Threshold(8.0, "sigma", "[M] a block this far from its neighbours is interference, not cranking")
HUMP_RESIDUAL_MAX = Threshold(0.72, "1", "[M] above this the trace does not look like compressions at all")
HUMP_RESIDUAL_CAUTION = Threshold(0.45, "1", "[M] above this the shape fits badly and the spread is widened")
STARTER_CURRENT_MIN_A = Threshold(15.0, "A", "[M] less than any starter turning an engine")
STARTER_CURRENT_MAX_A = Threshold(5000.0, "A", "[M] more than any starter draws")
BATTERY_DIP_MIN_V = Threshold(0.08, "V", "[M] a battery that does not sag is not cranking anything")
BATTERY_VOLT_MAX = Threshold(60.0, "V", "[M] above any 12, 24 or 48 V system")
CYCLE_LENGTH_TOLERANCE = Threshold(0.22, "1", "[M] a cycle further than this from its neighbours is left out")
STRIKE_GROUP_SHARE = Threshold(0.2, "1", "[T] edges within this share of the usual gap belong to one event")
SYNC_NOISE_RPM = Threshold(1500.0, "rpm", "[M] a sync this fast while cranking is noise, not a cylinder")
SYNC_TRUSTED_RPM_MIN = Threshold(
    120.0, "rpm", "[M] within this range a first reading of the sync is taken without a second"
)
SYNC_TRUSTED_RPM_MAX = Threshold(300.0, "rpm", "[T] upper end of usual cranking speed")
SYNC_TRUSTED_RESIDUAL = Threshold(0.3, "1", "[M] a fit this good needs no second reading")
UNSYNCED_LIKENESS_MIN = Threshold(0.4, "1", "[M] correlation of a cycle with the next one")

# Relative compression
COMPRESSION_LOW_SHARE = Threshold(
    0.80, "1", "[T] 15 to 25 % below the peers is suspicious, below about 75 % of the highest low"
)
COMPRESSION_SUSPICIOUS_SHARE = Threshold(0.87, "1", "[T] within 10 to 15 % of the peers is even")
COMPRESSION_ABSENT_SHARE = Threshold(
    0.28, "1", "[T] below about 25 % is a dead hole; a margin for the neighbours' flanks"
)
COMPRESSION_HIGH_SHARE = Threshold(1.30, "1", "[M] higher than carbon or a different piston would explain")
BESIDE_DEAD_HOLE_LOW_SHARE = Threshold(
    0.68, "1", "[T] do not accuse a neighbour of a small deviation beside a dead hole"
)
BESIDE_DEAD_HOLE_HIGH_SHARE = Threshold(1.70, "1", "[M] the next compression lacks the dead cylinder's push")
PEER_GROUP_SHARE = Threshold(0.80, "1", "[M] cylinders within this share of the strong ones are the peers")
SOURCES_AGREE_SHARE = Threshold(0.18, "1", "[M] current and voltage of one crank should agree this closely")
SENSOR_SHARE_SIGMA = Threshold(0.035, "1", "[M] build differences between sound cylinders")

# Cranking speed table
SPEED_TABLE_SECONDS_MIN = Threshold(8.0, "s", "[T] the table settles after 8 to 10 s of cranking")
SPEED_TABLE_RPM_MIN = Threshold(60.0, "rpm", "[M] below this the value is a placeholder")
SPEED_TABLE_RPM_MAX = Threshold(600.0, "rpm", "[M] above this the value is a placeholder")
SPEED_TABLE_WEAK_RPM_SHARE = Threshold(0.025, "1", "[M] faster than the peers by this share: weaker")
SPEED_TABLE_DEAD_RPM_SHARE = Threshold(0.09, "1", "[M] faster than the peers by this share: hardly any compression")

# Contribution while running
SAMPLES_PER_TOOTH_MIN = Threshold(5.0, "samples", "[M] fewer cannot time a tooth")
RUNNING_CYCLES_MIN = Threshold(6, "cycles", "[M] fewer do not show a spread")
RUNNING_RPM_MIN = Threshold(420.0, "rpm", "[M] slower than any engine idles")
MISFIRE_EVENT_SHARE = Threshold(0.40, "1", "[M] an event with less work than this did not burn")
MISFIRE_RATE_MIN = Threshold(0.06, "1", "[M] cylinders misfire now and then; more often than this is a finding")
MISFIRE_DEAD_RATE = Threshold(0.85, "1", "[M] misfires this often are a dead cylinder")
MISFIRE_RANDOM_MAX = Threshold(0.5, "1", "[M] a cylinder that misfires more often is a cylinder fault")
CONTRIBUTION_LOW_SHARE = Threshold(0.78, "1", "[M] cylinders of a sound engine differ by 10 to 15 % at idle")
CONTRIBUTION_ABSENT_SHARE = Threshold(0.30, "1", "[M] less than this is friction and noise")
BESIDE_WORSE_BY = Threshold(0.2, "1", "[M] a neighbour this much worse disturbs a cylinder's own reading")
BESIDE_WORSE_LOW_SHARE = Threshold(0.5, "1", "[T] do not accuse a neighbour of a small deviation beside a dead hole")
CONTRIBUTION_SIGMA = Threshold(0.07, "1", "[M] build differences between sound cylinders at idle")
BALANCE_DROP_MIN_SHARE = Threshold(0.015, "1", "[M] share of idle speed below which idle control has filled the hole")
BALANCE_DRIFT_MAX_SHARE = Threshold(0.08, "1", "[M] baselines should return to within this share of idle speed")
BALANCE_READING_RPM = Threshold(6.0, "rpm", "[M] how well a wandering idle is read")
BALANCE_LOW_SHARE = Threshold(0.68, "1", "[M] drops read by hand scatter more than a crank trace")
BALANCE_SIGMA = Threshold(0.14, "1", "[M] scatter of drops between sound cylinders")
NOT_TRIED_SIGMA = Threshold(5.0, "1", "[M] a cylinder not tried weighs nothing")
COUNTS_OVER_EVENTS = Threshold(1.1, "1", "[M] more misfires than firings cannot be; a margin for the window's edges")
COUNTS_SIGMA = Threshold(0.12, "1", "[M] how well a counted rate is known")
COUNTS_QUIET_SIGMA = Threshold(0.30, "1", "[M] a weak cylinder is not counted as misfiring")
COUNTS_SILENT_SIGMA = Threshold(
    0.9, "1", "[T] counts can stop when the misfire is gross: zero everywhere is hardly a witness"
)

# Pulses
PULSE_RESIDUAL_MAX = Threshold(0.6, "1", "[M] a cycle that is explained less than this shows no pulses of cylinders")
PULSE_ABSENT_SHARE = Threshold(0.30, "1", "[M] a cylinder that does not fire pushes less than this, or pulls")
PULSE_LOW_SHARE = Threshold(0.72, "1", "[M] pulses of sound cylinders differ with their way through the manifold")
PULSE_APART_MIN_DEG = Threshold(80.0, "deg", "[M] pulses are about this long; closer ones cannot be told apart")
PULSE_SIGMA = Threshold(0.12, "1", "[M] differences of the ways through the manifold")
