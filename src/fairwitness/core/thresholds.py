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
BELT_STARTER_RPM = Threshold(1_050.0, "rpm", "[T] belt starters and hybrids turn an engine at 600 to 1,000 rpm")
CRANKING_CYCLES_MIN = Threshold(4, "cycles", "[M] fewer do not show a length that repeats itself")
CRANKING_CYCLES_SYNCED_MIN = Threshold(
    3, "cycles", "[M] where the sync gives the length; the middle of fewer is chance"
)
CRANKING_RUN_UP_SIGMA = Threshold(0.08, "1", "[M] what the run-up of the starter adds to one of few compressions")
CRANKING_CYCLES_FEW = Threshold(6, "cycles", "[M] below this the spread itself is uncertain")
CRANKING_ENOUGH_S = Threshold(4.0, "s", "[M] any engine that turns makes four cycles in this time")
INRUSH_DROP_S = Threshold(0.35, "s", "[T] locked-rotor inrush, dropped before measuring")
PULSE_SAMPLES_MIN = Threshold(10, "samples", "[M] samples per compression hump needed to find its crest")
PULSE_SAMPLES_FEW = Threshold(20, "samples", "[M] below this a caution is shown")
CLAMP_ZERO_MAX_A = Threshold(5.0, "A", "[M] resting current above this is a clamp that was not zeroed")
CLIPPED_SHARE_MIN = Threshold(0.03, "1", "[M] share of steady samples standing at the ceiling")
CLIPPED_TOP_BIN_RATIO = Threshold(3.5, "1", "[M] a sine puts about 2.4 times the next level's samples in its top level")
SPIKE_SIGMA = Threshold(8.0, "sigma", "[M] a block this far from its neighbours is interference, not cranking")
COMPRESSION_RESIDUAL_MAX = Threshold(0.72, "1", "[M] above this the trace does not look like compressions at all")
COMPRESSION_RESIDUAL_CAUTION = Threshold(0.45, "1", "[M] above this the shape fits badly and the spread is widened")
STARTER_CURRENT_MIN_A = Threshold(15.0, "A", "[M] less than any starter turning an engine")
STARTER_DRAWS_MIN_A = Threshold(50.0, "A", "[T] starters draw so much while they turn, motorcycle to lorry")
STARTER_DRAWS_MAX_A = Threshold(1000.0, "A", "[T] starters draw up to this while they turn, motorcycle to lorry")
COIL_DRAWS_MIN_A = Threshold(2.0, "A", "[T] ignition coils are charged to 3 to 15 A; a margin below")
COIL_DRAWS_MAX_A = Threshold(40.0, "A", "[T] ignition coils are charged to 3 to 15 A; several may share a feed")
INJECTOR_DRAWS_MIN_A = Threshold(0.3, "A", "[T] saturated injectors draw 0.7 to 2 A; a margin below")
INJECTOR_DRAWS_MAX_A = Threshold(60.0, "A", "[T] common-rail and direct injectors peak at 8 to 30 A; a margin above")
STARTER_CURRENT_MAX_A = Threshold(5000.0, "A", "[M] more than any starter draws")
BATTERY_DIP_MIN_V = Threshold(0.08, "V", "[M] a battery that does not sag is not cranking anything")
BATTERY_VOLT_MAX = Threshold(60.0, "V", "[M] above any 12, 24 or 48 V system")
CYCLE_LENGTH_TOLERANCE = Threshold(0.22, "1", "[M] a cycle further than this from its neighbours is left out")
STRIKE_GROUP_SHARE = Threshold(0.2, "1", "[T] edges within this share of the usual gap belong to one event")
SYNC_NOISE_RPM = Threshold(1500.0, "rpm", "[M] a sync this fast while cranking is noise, not a cylinder")
SYNC_SWITCHES_SHARE = Threshold(0.4, "1", "[T] a switched wire leaves its resting level by more than half of it")
SYNC_GAPS_MIN = Threshold(6, "gaps", "[M] fewer do not show whether events are regular")
SYNC_GAP_RATIO = Threshold(1.33, "1", "[M] neighbouring cycles of an engine differ less, even while it is cranked")
SYNC_REGULAR_SHARE = Threshold(0.3, "1", "[M] random crossings reach about 0.14, a sync that loses a quarter 0.5")
SYNC_TRUSTED_RPM_MIN = Threshold(
    120.0, "rpm", "[M] within this range a first reading of the sync is taken without a second"
)
SYNC_TRUSTED_RPM_MAX = Threshold(300.0, "rpm", "[T] upper end of usual cranking speed")
SYNC_TRUSTED_RESIDUAL = Threshold(0.3, "1", "[M] a fit this good needs no second reading")
CYCLES_ALIKE_MAX = Threshold(0.12, "1", "[M] scatter of a compression from cycle to cycle where the level is no guide")
SYNC_INTERVAL_SPREAD_MAX = Threshold(0.15, "1", "[M] a sync that scatters more says no length of a cycle")
HUMP_LIKENESS_RATIO = Threshold(0.9, "1", "[M] humps as much alike as cycles are, by this share, are equal")
HUMP_PLACE_TOLERANCE = Threshold(0.12, "1", "[M] how far from its place a repeated hump may lie, of a hump's width")
SYNC_LENGTH_TOLERANCE = Threshold(0.1, "1", "[M] a cycle further from what the sync says contradicts it")
EQUAL_HUMPS_BETTER = Threshold(2.0, "1", "[M] how much better missing cylinders must fit than equal ones")
FOLDED_MIN = Threshold(2, "cycles", "[M] one cycle alone is the spin-up")
REPEATED_GAPS_SHARE = Threshold(0.1, "1", "[M] share of the gaps that are intervals, at least; multi-strike")
RESTS_ABOVE = Threshold(2.5, "1", "[M] a gap of more than so many usual ones is a rest between two attempts")
CRANK_MIN_S = Threshold(1.0, "s", "[M] a shorter load is no crank; a longer one is, however long the recording goes on")
UNSYNCED_LIKENESS_MIN = Threshold(0.4, "1", "[M] correlation of a cycle with the next one")

# Cam against crank
CAM_OFF_DEG = Threshold(5.0, "deg", "[M] half a tooth of a usual chain wheel, on the crank; stretch alone stays below")
CAM_SWING_MIN_V = Threshold(0.5, "V", "[M] less is no switching sensor")
CAM_EDGES_MIN = Threshold(6, "edges", "[M] fewer do not show which edges repeat")

# Half of the cylinders against the other half
HALVES_APART = Threshold(1.3, "1", "[M] breakdowns of two halves this far apart are two kinds of cylinder")
HALF_SPREAD = Threshold(0.35, "1", "[M] within a half they lie closer together")
FIRING_TYPICAL_KV = Threshold(10.5, "kV", "[T] middle of the usual 8 to 15 kV at idle, as a ratio")

# Sparks that come and go
SPARK_ODD_SHARE = Threshold(1.7, "1", "[M] a breakdown this far above the cylinder's own usual one is another event")
SPARKS_LOST_SHARE = Threshold(0.08, "1", "[M] share of lost sparks from which they are not chance")
SPARKS_FOR_GAPS_MIN = Threshold(8, "events", "[M] fewer sparks do not tell one that is lost now and then")

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
WORK_TOWERS_SHARE = Threshold(0.70, "1", "[M] of the strongest; where the second does less, the first is fed too much")
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
RUNNING_CYCLES_MIN = Threshold(3, "cycles", "[M] a mean of fewer is chance; the spread of all cylinders together shows")
RUNNING_CYCLES_FEW = Threshold(6, "cycles", "[M] below this a cylinder's own spread and its misfire rate are not known")
RUNNING_RPM_MIN = Threshold(420.0, "rpm", "[M] slower than any engine idles")
MISFIRE_EVENT_SHARE = Threshold(0.40, "1", "[M] an event with less work than this did not burn")
MISFIRE_RATE_MIN = Threshold(0.06, "1", "[M] cylinders misfire now and then; more often than this is a finding")
MISFIRE_DEAD_RATE = Threshold(0.85, "1", "[M] misfires this often are a dead cylinder")
MISFIRE_RANDOM_MAX = Threshold(0.5, "1", "[M] a cylinder that misfires more often is a cylinder fault")
CONTRIBUTION_LOW_SHARE = Threshold(0.78, "1", "[M] cylinders of a sound engine differ by 10 to 15 % at idle")
CONTRIBUTION_ABSENT_SHARE = Threshold(0.30, "1", "[M] less than this is friction and noise")
CONTRIBUTION_NONE_SHARE = Threshold(0.1, "1", "[M] so little is called none in words")
BESIDE_WORSE_BY = Threshold(0.2, "1", "[M] a neighbour this much worse disturbs a cylinder's own reading")
BESIDE_WORSE_LOW_SHARE = Threshold(0.5, "1", "[T] do not accuse a neighbour of a small deviation beside a dead hole")
CONTRIBUTION_SIGMA = Threshold(0.07, "1", "[M] build differences between sound cylinders at idle")
BALANCE_DROP_MIN_SHARE = Threshold(0.015, "1", "[M] share of idle speed below which idle control has filled the hole")
BALANCE_DRIFT_MAX_SHARE = Threshold(0.08, "1", "[M] baselines should return to within this share of idle speed")
BALANCE_READING_RPM = Threshold(6.0, "rpm", "[M] how well a wandering idle is read")
BALANCE_LOW_SHARE = Threshold(0.68, "1", "[M] drops read by hand scatter more than a crank trace")
SPARK_RATE_MIN_HZ = Threshold(5_000.0, "1/s", "[T] five samples and more in a spark line of 1 ms")
SHARES_ERROR_MAX = Threshold(0.35, "1", "[M] compressions that scatter more from cycle to cycle compare nothing")
TEETH_MAX = Threshold(400, "teeth", "[T] the finest wheels on a crank have 360 marks")
VALVES_CLEAR_SHARE = Threshold(0.6, "1", "[M] of what is allowed, beyond which valves are not called as usual either")
COMMAND_DUE_S = Threshold(0.5, "s", "[M] two cycles at 480 rpm: a command that comes each cycle has come by then")
BALANCE_UNCHANGED_SHARE = Threshold(0.1, "1", "[M] what a cylinder still does whose removal nobody hears")
BALANCE_HEARD_SIGMA = Threshold(0.3, "1", "[M] an ear tells nothing from something, and little more")
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

PULSE_OUT_SIGMA = Threshold(5.0, "1", "[M] a pulse this far out of what cylinders and cycles scatter is no chance")
PULSE_EXPLAINS = Threshold(0.3, "1", "[M] of what the common breathing leaves: one cylinder's own pulse is most of it")
PULSE_FLOOR_SHARE = Threshold(0.12, "1", "[M] of all that moves in the trace; less is the common breathing")
BLOW_BY_SHARE = Threshold(
    0.45, "1", "[M] of all that moves in the crankcase: past worn rings the pulse drowns the breathing"
)
PULSE_SHARE_SIGMA = Threshold(0.14, "1", "[M] differences of ways through intake and crankcase")

# Ignition: secondary voltage
SPARK_ABSENT_SHARE = Threshold(0.15, "1", "[M] less than this beside the peers is another lead heard, not a spark")
SPARK_HEARD_SHARE = Threshold(0.05, "1", "[M] so little is another lead heard even where a line seems to follow")
FIRING_HIGH_SHARE = Threshold(1.32, "1", "[T] firing voltages are even; sound plugs differ by 10 to 15 %")
FIRING_LOW_SHARE = Threshold(0.70, "1", "[T] firing voltages are even; sound plugs differ by 10 to 15 %")
FIRING_HIGH_KV = Threshold(20.0, "kV", "[T] under 20 kV at idle")
LINE_HIGH_SHARE = Threshold(1.28, "1", "[T] spark lines are even")
LINE_LOW_SHARE = Threshold(0.74, "1", "[T] markedly below the peers: the arc is outside the cylinder")
LINE_HIGH_KV = Threshold(6.0, "kV", "[T] above 6 kV: high resistance in lead or plug")
DURATION_HIGH_SHARE = Threshold(1.35, "1", "[M] spark durations of sound cylinders differ by about 10 %")
DURATION_LOW_SHARE = Threshold(0.70, "1", "[M] spark durations of sound cylinders differ by about 10 %")
DURATION_SHORT_MS = Threshold(0.9, "ms", "[T] always over 0.9 ms")
LINE_RISE_MORE = Threshold(0.24, "1", "[M] more rise over the line than the peers have: lean")
RINGING_GONE_SHARE = Threshold(0.35, "1", "[T] oscillations after the spark are missing: weak or shorted coil")
RESTRIKES_MANY = Threshold(0.5, "1", "[M] a spark that is blown out every second time; sound ones hold")
BREAKDOWN_OVER_LINE = Threshold(1.4, "1", "[M] a gap breaks down well above what its arc burns at, or it was not seen")
CUT_OFF_SHARE = Threshold(0.6, "1", "[M] share of breakdowns at one height from which a range cut them off")
SPARKS_MISSED_SHARE = Threshold(0.12, "1", "[M] a sound cylinder misses no spark; one lost at the edge is not counted")
KV_PLAUSIBLE_MIN = Threshold(3.0, "kV", "[M] peers below this: the pick-up is not calibrated")
KV_PLAUSIBLE_MAX = Threshold(32.0, "kV", "[M] peers above this at idle: the pick-up is not calibrated")
SHAPE_MISREAD = Threshold(0.06, "1", "[M] share of traces whose shape tells something else than they are")
NAME_ODDS = Threshold(30.0, "1", "[M] odds that the name of a column gives the role it says")
LEVEL_ODDS = Threshold(5.0, "1", "[M] odds by which a level that a role can have, or cannot, speaks for or against it")
BATTERY_STANDS_MIN_V = Threshold(5.0, "V", "[T] a battery that turns an engine stays above; pulses start from nothing")
BATTERY_ODDS = Threshold(100.0, "1", "[M] odds that a trace which always stands at battery level is the battery")
PICK_UP_GAIN_OFF = Threshold(0.2, "1", "[M] the turn-on step is the coil's ratio times battery: alike for all coils")
SNAP_RISES_SHARE = Threshold(1.3, "1", "[T] firing voltage rises under a snap throttle on a sound cylinder")
SNAP_STILL_SHARE = Threshold(0.35, "1", "[M] a rise this small beside the peers' is no reaction")
FIRING_SIGMA = Threshold(0.09, "1", "[M] differences between sound plugs")
LINE_SIGMA = Threshold(0.06, "1", "[M] differences between sound plugs")
DURATION_SIGMA = Threshold(0.09, "1", "[M] differences between sound plugs")
RISE_SIGMA = Threshold(0.09, "1", "[M] differences between sound cylinders, as a share of the line")
RINGING_SIGMA = Threshold(0.15, "1", "[M] differences between sound coils")

# Ignition: coil current and command
RAMP_LIMITED_SLOPE_SHARE = Threshold(0.12, "1", "[M] a ramp that ends this flat beside its start is held by a limiter")
COIL_CURRENT_ABSENT_SHARE = Threshold(0.15, "1", "[M] less than this beside the peers is no current")
COIL_CURRENT_LOW_SHARE = Threshold(0.85, "1", "[M] coils of one engine agree within a few per cent")
COIL_CURRENT_STEEP_SHARE = Threshold(1.3, "1", "[T] a steep start is a lower inductance: shorted turns")
COIL_CURRENT_SIGMA = Threshold(0.06, "1", "[M] differences between sound coils, clamp and driver")
COIL_CURRENT_MIN_A = Threshold(0.05, "A", "[M] coils switch off at 6 to 12 A; a clamp may be logged at a tenth of that")
COMMAND_LOW_ABOVE_V = Threshold(0.8, "V", "[T] the low level lies within about 0.3 V of the peers; a margin for earths")
COMMAND_SWING_MIN_V = Threshold(1.5, "V", "[M] less than this between low and high is no command")
COMMAND_STUCK_HIGH_V = Threshold(2.0, "V", "[M] a level that never changes and stands above this is stuck high")
PRIMARY_KICK_V = Threshold(30.0, "V", "[T] coils kick far beyond the battery: this lead sits on a primary")

SUPPLY_SAG_MAX_V = Threshold(1.5, "V", "[M] sound wires and a sound battery lose less while a coil charges")

# Meter
PRIMARY_OHM_MIN = Threshold(0.3, "ohm", "[T] primaries have about 0.4 to 2 ohm; a margin for the meter's leads")
PRIMARY_OHM_MAX = Threshold(2.6, "ohm", "[T] primaries have about 0.4 to 2 ohm; a margin for heat")
PRIMARY_OHM_POINTS_MAX = Threshold(5.5, "ohm", "[T] coils of points and of motorcycles have 3 to 5 ohm")
SECONDARY_OHM_MIN = Threshold(4_000.0, "ohm", "[T] secondaries have about 5 to 15 kilohm")
SECONDARY_OHM_MAX = Threshold(18_000.0, "ohm", "[T] secondaries have about 5 to 15 kilohm; a margin for heat")
LEAD_OHM_MAX = Threshold(25_000.0, "ohm", "[M] suppressed leads and boots have 1 to 15 kilohm")
WIRE_OHM_MAX = Threshold(2.0, "ohm", "[M] a sound wire with its contacts")
WIRE_OPEN_ABOVE_OHM = Threshold(10_000.0, "ohm", "[M] across an injector of some ohms to some tens of ohms")
SATURATED_OHM_MIN = Threshold(10.5, "ohm", "[T] saturated drive: 12 to 16 ohm")
SATURATED_OHM_MAX = Threshold(19.0, "ohm", "[T] saturated drive: 12 to 16 ohm; a margin for heat")
LOW_OHM_MIN = Threshold(1.2, "ohm", "[T] peak-and-hold drive: 2 to 3 ohm")
LOW_OHM_MAX = Threshold(5.0, "ohm", "[T] peak-and-hold drive: 2 to 3 ohm; a margin for heat")
BOOSTED_OHM_MIN = Threshold(0.15, "ohm", "[T] rail solenoids have 0.2 to 0.5 ohm, those of direct injection 0.5 to 3")
BOOSTED_OHM_MAX = Threshold(4.0, "ohm", "[M] direct injection solenoids have 0.5 to 3 ohm; a margin for heat")
INJECTOR_OHM_NOMINAL = Threshold(0.32, "1", "[M] heat adds up to a quarter to copper; more is not heat")
INJECTOR_OHM_APART = Threshold(0.10, "1", "[T] 1 ohm in 15 is a normal spread; 10 % stands out when all others agree")
FEED_MIN_V = Threshold(10.5, "V", "[M] battery voltage under load, less what sound wires drop")
FEED_CRANKING_MIN_V = Threshold(8.0, "V", "[M] battery voltage while the starter draws")
FEED_ABSENT_V = Threshold(2.0, "V", "[M] less than this feeds nothing")
EARTH_DROP_MAX_V = Threshold(0.2, "V", "[T] earth drop below 0.2 V")
CONTROL_AT_BATTERY_V = Threshold(9.0, "V", "[M] the control side rests at battery voltage through the injector")
CONTROL_BIAS_MIN_V = Threshold(0.8, "V", "[T] a few volts that the control unit monitors the circuit with")

# Pressure in the cylinder
ABSOLUTE_FROM = Threshold(0.7, "1", "[M] of the atmosphere: an exhaust plateau in this range was written as absolute")
ABSOLUTE_TO = Threshold(1.2, "1", "[M] of the atmosphere; a gauge shows next to nothing there")
TOWER_MIN_PA = Threshold(20_000.0, "Pa", "[M] less than this above the rest is no compression")
TOWER_APART_S = Threshold(0.02, "s", "[M] two summits closer than this are one tower")
TWIN_UNLIKE = Threshold(0.03, "1", "[M] compression and what could not be let out differ at least so much")
CYCLE_APART_DEG = Threshold(6.0, "deg", "[M] teeth that put a cycle further from 720 degrees are not believed")

PRESSURE_LOW_BAR = Threshold(8.0, "bar", "[T] cranking peaks of 9 to 14 bar; a margin for slow starters")
PRESSURE_LOW_DIESEL_BAR = Threshold(18.0, "bar", "[M] diesels crank to 20 to 35 bar")
COMPRESSION_USUAL_MIN_BAR = Threshold(7.0, "bar", "[M] what cranked engines usually make")
COMPRESSION_USUAL_MAX_BAR = Threshold(40.0, "bar", "[M] what cranked engines usually make, diesels included")
COMPRESSION_CEILING_BAR = Threshold(60.0, "bar", "[M] no starter compresses beyond; more is another unit")
COMPRESSION_FLOOR_BAR = Threshold(2.5, "bar", "[M] sealed cylinders of all engines make more, or unit or hose is wrong")
HELD_SHARE = Threshold(0.6, "1", "[M] of the time; a cylinder stands above half of its peak for a tenth of a cycle")
DRAWS_SHARE = Threshold(0.12, "1", "[M] of the peak: a cylinder that is not filled pulls so far below the atmosphere")
PRESSURE_LOW_SHARE = Threshold(0.85, "1", "[M] sound cylinders of one engine agree within a few per cent")
PRESSURE_ABSENT_SHARE = Threshold(0.2, "1", "[M] of its peers; what is left does not fire")
PRESSURE_SIGMA = Threshold(0.05, "1", "[M] differences between sound cylinders and transducers")
GAUGE_SIGMA = Threshold(0.06, "1", "[M] differences between sound cylinders, strokes counted by hand, and the gauge")
GAUGE_LOW_SHARE = Threshold(0.75, "1", "[T] lowest at least 75 % of the highest")
WET_RISES_SHARE = Threshold(0.25, "1", "[M] of what is missing, or a twentieth of the usual: more is oil that seals")
TOWER_LOSS_MAX = Threshold(0.2, "1", "[M] sound cylinders lose a few per cent of their gas while cranking")
TOWER_LEAN_MIN = Threshold(0.87, "1", "[M] fall over rise at half height; a sound tower is even")
TRANSDUCER_ALIVE_PA = Threshold(500.0, "Pa", "[M] standard deviation of a transducer that is connected to something")
INTAKE_CLOSES_DEG = Threshold(-132.0, "deg", "[M] effective closing, 30 to 60 degrees after bottom dead centre")
EXHAUST_OPENS_DEG = Threshold(138.0, "deg", "[T] exhaust opens 120 to 145 degrees after top dead centre; some later")
VALVES_APART_DEG = Threshold(11.0, "deg", "[M] a tooth of a timing drive is 15 to 20 degrees of crank")
ENGINES_APART_DEG = Threshold(7.0, "deg", "[M] engines differ among themselves, and effective closing moves with speed")
VALVES_FAR_SHARE = Threshold(
    1.5, "1", "[M] of the margin: no spread among sound engines reaches so far, bar a design of its own"
)
DEGREES_ROUGH = Threshold(
    10.0, "deg", "[M] what a starter's uneven turning does to degrees counted from tower to tower"
)
VACUUM_LOW_KPA = Threshold(50.0, "kPa", "[T] 57 to 75 kPa below the atmosphere at idle; a margin for altitude")

# Sealing by hand
LEAK_DOWN_BLOWS_PERCENT = Threshold(40.0, "%", "[M] past the rings; a worn engine that still runs well loses less")
LEAK_DOWN_WORN_PERCENT = Threshold(25.0, "%", "[T] above 20 to 30 % fault; a worn engine loses that past its rings")
KPA_PER_KM = Threshold(11.0, "kPa", "[P: ICAO Doc 7488, standard atmosphere] what the air weighs less a kilometre up")
LEAK_DOWN_FAULT_PERCENT = Threshold(20.0, "%", "[T] up to 10 % good, 10 to 20 % fair, above 20 to 30 % fault")

# Fuel: supply, mixture and delivery
PRESSURE_HELD_LOSS = Threshold(
    0.15, "1", "[M] of the pressure in a few minutes with the pump off; hot engines gain some"
)
TRIM_MAX_PERCENT = Threshold(10.0, "%", "[T] trims within about 10 % either way")
DELIVERY_DROP_MIN_KPA = Threshold(2.0, "kPa", "[M] less is no delivery at all, for any rail")
DELIVERY_NONE_SHARE = Threshold(0.15, "1", "[M] less than this beside the peers is nothing")
DELIVERY_APART = Threshold(0.12, "1", "[M] sound injectors deliver within about 10 % of each other")
DELIVERY_SIGMA = Threshold(0.05, "1", "[M] differences between sound injectors, and the gauge")

# Fuel: injector current
INJECTOR_ABSENT_SHARE = Threshold(0.15, "1", "[M] less than this beside the peers is no current")
INJECTOR_LOW_SHARE = Threshold(0.94, "1", "[T] a deficit of 10 % stands out when all others agree")
INJECTOR_HIGH_SHARE = Threshold(1.15, "1", "[M] a sound injector does not draw so much more than its peers")
INJECTOR_LONG_SHARE = Threshold(1.5, "1", "[T] a pulse twice as long is a driver or wire shorted to earth")
REGULATED_APART = Threshold(0.12, "1", "[M] rises and held currents of sound injectors of one regulated drive agree")
REGULATED_TIMES = Threshold(3.0, "1", "[M] what stands apart does so by more than sampling and the peers' own scatter")
REGULATED_SIGMA = Threshold(0.4, "1", "[M] where the driver regulates the current it says little of the resistance")
INJECTOR_CURRENT_SIGMA = Threshold(0.025, "1", "[T] 1 ohm in 15 is a normal spread of resistance")
INJECTOR_CURRENT_MIN_A = Threshold(0.01, "A", "[M] injectors draw 0.5 A and more; less is a clamp that is off")
INJECTIONS_MISSED_MIN = Threshold(
    6.0, "1", "[M] so many injections missed, and so many times its peers', are no chance"
)
LOST_EVENTS_MIN = Threshold(8.0, "1", "[M] events in a row without a sign of life before something is called lost")
INJECTOR_DRIFT = Threshold(0.03, "1", "[M] injectors of one engine warm alike; more apart is a contact or a winding")
WARMING_TOLD_K = Threshold(12.0, "K", "[M] less is not worth telling")
SUPPLY_PLAUSIBLE_MIN_V = Threshold(9.0, "V", "[M] a running engine's supply lies above this")
SUPPLY_PLAUSIBLE_MAX_V = Threshold(32.0, "V", "[M] the supply of a 24 V vehicle while charging, and a margin")
KICK_MIN_V = Threshold(4.0, "V", "[M] less above rest is ringing, not a field that collapses")
KICK_LOW_SHARE = Threshold(0.8, "1", "[M] kicks of one engine agree, most drivers hold them at one level")
KICK_USUAL_V = Threshold(45.0, "V", "[T] kicks reach 60 to 100 V; a common ceiling far below is the range")
BUMP_APART_V = Threshold(0.5, "V", "[M] a closing needle gives back a volt or two on the decay")
BUMP_APART_TIMES = Threshold(4.0, "1", "[M] beside what the peers differ among themselves")
KICK_SIGMA = Threshold(0.08, "1", "[M] differences between sound injectors and drivers")
NEEDLE_DIP_MIN = Threshold(0.02, "1", "[M] peers whose needles hardly show cannot say that one does not move")
NEEDLE_GONE_SHARE = Threshold(0.35, "1", "[M] beside the peers' dip")
NEEDLE_SIGMA = Threshold(0.2, "1", "[M] differences between sound needles, and the noise of a small thing")
