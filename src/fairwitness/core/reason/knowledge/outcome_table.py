"""How often each test without a scale comes out which way under each fault, in per cent [M]; see ``outcomes``."""

from __future__ import annotations

from fairwitness.core.reason.knowledge.outcome_table_electrical import ELECTRICAL
from fairwitness.core.reason.knowledge.outcome_table_engine import ENGINE

TABLE = (
    ELECTRICAL
    + ENGINE
    + """
@ fuel_pressure
sound                                 | normal 97.2, low 0.8, high 2
fuel_supply_low                       | low 88, normal 12
fuel_supply_none                      | low 98, normal 2
injector_leaking                      | normal 88, low 10, high 2

@ fuel_pressure:volume
sound                                 | normal 96, low 4
fuel_supply_low                       | low 85, normal 15

@ fuel_pressure:held
sound                                 | holds 90, drops 10
injector_leaking                      | drops 75, holds 25
injector_driver_failed                | drops 55, holds 45
injector_driver_failed (dead)         | holds 90, drops 10
injector_driver_failed (held on)      | drops 90, holds 10
fuel_supply_low                       | holds 82, drops 18

@ fuel_trim
sound                                 | normal 88, lean 9, rich 3
fuel_supply_low                       | lean 82, normal 18
unmetered_air_at_runner               | lean 58, normal 42
injector_restricted                   | lean 45, normal 55
injector_leaking                      | rich 60, normal 40
injector_driver_failed                | normal 40, lean 35, rich 25
injector_driver_failed (dead)         | lean 55, normal 44, rich 1
injector_driver_failed (held on)      | rich 50, normal 40, lean 10
injector_open_circuit                 | lean 55, normal 45
injector_shorted                      | lean 55, normal 45
injector_stuck_closed                 | lean 55, normal 45
injector_feed_lost                    | lean 55, normal 45
injector_control_open                 | lean 55, normal 45
injector_high_resistance              | lean 15, normal 85
cut_by_ecu                            | lean 50, normal 50
plug_shorted                          | lean 40, normal 55, rich 5
secondary_open                        | lean 45, normal 50, rich 5
coil_output_dead                      | lean 45, normal 50, rich 5
coil_primary_open                     | lean 45, normal 50, rich 5
coil_feed_lost                        | lean 45, normal 50, rich 5
coil_control_open                     | lean 45, normal 50, rich 5
coil_driver_failed                    | lean 45, normal 50, rich 5
ring_or_piston_leak                   | lean 25, normal 72, rich 3
intake_valve_leak                     | lean 25, normal 72, rich 3
exhaust_valve_leak                    | lean 30, normal 67, rich 3
head_gasket_leak                      | lean 20, normal 77, rich 3
exhaust_valve_not_opening             | lean 20, normal 75, rich 5

@ runner_check:runner
sound                                 | tight 97, leak 3
unmetered_air_at_runner               | leak 80, tight 20

@ runner_check:injector_seal
sound                                 | tight 97, leak 3
unmetered_air_at_runner               | leak 35, tight 65

@ runner_check:egr_port
sound                                 | tight 96, leak 4
unmetered_air_at_runner               | leak 25, tight 75

@ spark_check:lead_end
sound                                 | strong 95, weak 4, none 1
ignition_common_lost                  | none 95, weak 4, strong 1
crank_signal_lost                     | none 90, weak 5, strong 5
unit_unpowered                        | none 97, strong 3
weak_battery                          | weak 45, strong 45, none 10
coil_output_dead                      | none 90, weak 8, strong 2
coil_primary_open                     | none 95, weak 3, strong 2
coil_feed_lost                        | none 95, weak 3, strong 2
coil_control_open                     | none 95, weak 3, strong 2
coil_driver_failed                    | none 94, weak 4, strong 2
coil_secondary_shorted                | weak 62, none 30, strong 8
secondary_open                        | none 82, weak 14, strong 4
secondary_high_resistance             | weak 62, strong 33, none 5
secondary_leak                        | weak 42, strong 53, none 5

@ spark_check:coil
sound                                 | strong 95, weak 4, none 1
ignition_common_lost                  | none 95, weak 4, strong 1
crank_signal_lost                     | none 90, weak 5, strong 5
unit_unpowered                        | none 97, strong 3
weak_battery                          | weak 45, strong 45, none 10
coil_output_dead                      | none 90, weak 8, strong 2
coil_primary_open                     | none 95, weak 3, strong 2
coil_feed_lost                        | none 95, weak 3, strong 2
coil_control_open                     | none 95, weak 3, strong 2
coil_driver_failed                    | none 94, weak 4, strong 2
coil_secondary_shorted                | weak 62, none 30, strong 8

@ load_lamp:coil
sound                                 | flashing 95, dim 2, bright 1, dark 2
ignition_common_lost                  | dark 85, dim 5, flashing 10
crank_signal_lost                     | dark 92, flashing 8
unit_unpowered                        | dark 95, flashing 5
coil_feed_lost                        | dark 90, dim 8, flashing 2
coil_control_open                     | dark 93, dim 3, flashing 4
coil_driver_failed                    | dark 60, bright 30, dim 5, flashing 5

@ load_lamp:injector
sound                                 | flashing 95, dim 2, bright 1, dark 2
injector_feed_lost                    | dark 92, dim 6, flashing 2
injector_control_open                 | dark 92, dim 4, flashing 4
injector_driver_failed                | dark 50, bright 46, flashing 4
injector_driver_failed (dead)         | dark 95, bright 3, flashing 2
injector_driver_failed (held on)      | bright 93, dark 5, flashing 2
injector_high_resistance              | flashing 65, dim 33, dark 2
cut_by_ecu                            | dark 80, flashing 20

@ load_lamp:feed
sound                                 | bright 95, dim 2, flashing 1, dark 2
ignition_common_lost                  | dark 60, dim 8, bright 32
coil_feed_lost                        | dark 85, dim 13, bright 2
injector_feed_lost                    | dark 85, dim 13, bright 2

@ swap:coil
sound                                 | stayed 98.5, moved 1.5
coil_output_dead                      | moved 95, stayed 5
coil_primary_open                     | moved 95, stayed 5
coil_secondary_shorted                | moved 95, stayed 5
secondary_leak                        | stayed 55, moved 45
secondary_open                        | stayed 55, moved 45
secondary_high_resistance             | stayed 55, moved 45

@ swap:plug
sound                                 | stayed 98.5, moved 1.5
plug_gap_wide                         | moved 94, stayed 6
plug_shorted                          | moved 94, stayed 6
plug_tracking                         | moved 90, stayed 10

@ swap:lead
sound                                 | stayed 98.5, moved 1.5
secondary_open                        | moved 94, stayed 6
secondary_leak                        | moved 90, stayed 10
secondary_high_resistance             | moved 93, stayed 7

@ swap:injector
sound                                 | stayed 98.5, moved 1.5
injector_open_circuit                 | moved 92, stayed 8
injector_high_resistance              | moved 60, stayed 40
injector_shorted                      | moved 95, stayed 5
injector_stuck_closed                 | moved 95, stayed 5
injector_restricted                   | moved 93, stayed 7
injector_leaking                      | moved 90, stayed 10

@ pressure_level
sound                                 | normal 96, low 4
ring_or_piston_leak                   | low 88, normal 12
intake_valve_leak                     | low 88, normal 12
exhaust_valve_leak                    | low 88, normal 12
head_gasket_leak                      | low 85, normal 15
intake_valve_not_opening              | low 97, normal 3
valve_timing_shifted                  | low 40, normal 60
low_compression_all                   | low 60, normal 40
injector_leaking                      | normal 90, low 10

@ pressure_best
sound                                 | normal 98.5, low 1.5
low_compression_all                   | low 55, normal 45
valve_timing_shifted                  | low 30, normal 70

@ gauge_wet
sound                                 | stays 60, rises 40
ring_or_piston_leak                   | rises 90, stays 10
low_compression_all                   | rises 75, stays 25
injector_leaking                      | rises 70, stays 30
intake_valve_leak                     | stays 92, rises 8
exhaust_valve_leak                    | stays 92, rises 8
head_gasket_leak                      | stays 90, rises 10
valve_timing_shifted                  | stays 92, rises 8
intake_valve_not_opening              | stays 92, rises 8

@ pressure_tower
sound                                 | even 95, leans 5
valve_timing_shifted (bent valves)    | leans 80, even 20
ring_or_piston_leak                   | leans 90, even 10
intake_valve_leak                     | leans 90, even 10
exhaust_valve_leak                    | leans 90, even 10
head_gasket_leak                      | leans 85, even 15
low_compression_all                   | leans 75, even 25
injector_leaking                      | even 85, leans 15

@ valve_events
sound| usual 99, late 0.3, early 0.3, exhaust_shut 0.3, very_late 0.05, very_early 0.05
valve_timing_shifted                  | late 34, very_late 28, early 16, very_early 14, usual 8
valve_timing_shifted (bent valves)    | usual 55, late 12, very_late 13, early 10, very_early 10
exhaust_valve_not_opening             | exhaust_shut 93, usual 7

@ cam_timing
sound                                 | usual 99.2, late 0.4, early 0.4
valve_timing_shifted                  | late 60, early 34, usual 6
valve_timing_shifted (bent valves)    | usual 50, late 30, early 20

@ vacuum
sound                                 | usual 93, low 7
valve_timing_shifted                  | low 55, usual 45
unmetered_air_at_runner               | usual 75, low 25
low_compression_all                   | low 45, usual 55
intake_valve_leak                     | usual 65, low 35
coil_output_dead                      | usual 75, low 25
coil_primary_open                     | usual 75, low 25
coil_feed_lost                        | usual 75, low 25
coil_control_open                     | usual 75, low 25
coil_driver_failed                    | usual 75, low 25
secondary_open                        | usual 75, low 25
plug_shorted                          | usual 75, low 25
injector_open_circuit                 | usual 75, low 25
injector_stuck_closed                 | usual 75, low 25
injector_feed_lost                    | usual 75, low 25
injector_control_open                 | usual 75, low 25
cut_by_ecu                            | usual 75, low 25
intake_valve_not_opening              | usual 75, low 25
exhaust_valve_not_opening             | usual 75, low 25
exhaust_valve_leak                    | usual 75, low 25
ring_or_piston_leak                   | usual 75, low 25
head_gasket_leak                      | usual 75, low 25

@ misfire_rate misfire_count
sound                                 | none 98.8, some 1, most 0.2
(intermittent)                        | some 70, none 26, most 4
coil_output_dead                      | most 88, some 10, none 2
coil_primary_open                     | most 88, some 10, none 2
coil_feed_lost                        | most 88, some 10, none 2
coil_control_open                     | most 88, some 10, none 2
coil_driver_failed                    | most 88, some 10, none 2
secondary_open                        | most 88, some 10, none 2
injector_open_circuit                 | most 88, some 10, none 2
injector_stuck_closed                 | most 88, some 10, none 2
injector_feed_lost                    | most 88, some 10, none 2
injector_control_open                 | most 88, some 10, none 2
intake_valve_not_opening              | most 88, some 10, none 2
exhaust_valve_not_opening             | most 88, some 10, none 2
cut_by_ecu                            | most 88, some 10, none 2
injector_driver_failed                | most 70, some 25, none 5
injector_driver_failed (dead)         | most 88, some 10, none 2
injector_driver_failed (held on)      | most 55, some 35, none 10
plug_gap_wide                         | none 35, some 50, most 15
plug_shorted                          | most 55, some 20, none 25
coil_secondary_shorted                | most 50, some 20, none 30
injector_shorted                      | most 70, some 15, none 15
plug_tracking                         | some 55, most 30, none 15
secondary_leak                        | most 42, some 38, none 20
secondary_high_resistance             | none 55, some 40, most 5
injector_high_resistance              | none 65, some 30, most 5
injector_restricted                   | none 50, some 20, most 30
injector_leaking                      | none 70, some 25, most 5
unmetered_air_at_runner               | none 65, some 20, most 15
fuel_supply_low                       | none 70, some 28, most 2
ring_or_piston_leak                   | none 50, some 20, most 30
intake_valve_leak                     | none 50, some 20, most 30
exhaust_valve_leak                    | none 50, some 20, most 30
head_gasket_leak                      | none 50, some 20, most 30
valve_timing_shifted                  | none 75, some 15, most 10

@ spark_gaps
sound                                 | none 98.7, some 1.3
secondary_open (intermittent)         | some 88, none 12
coil_output_dead (intermittent)       | some 88, none 12
coil_primary_open (intermittent)      | some 88, none 12
coil_feed_lost (intermittent)         | some 88, none 12
coil_control_open (intermittent)      | some 88, none 12
coil_driver_failed (intermittent)     | some 88, none 12
secondary_leak (intermittent)         | some 80, none 20
plug_gap_wide (intermittent)          | some 65, none 35
plug_gap_wide                         | none 75, some 25
plug_tracking                         | some 65, none 35
secondary_leak                        | none 80, some 20
coil_secondary_shorted                | none 75, some 25
secondary_high_resistance             | none 88, some 12

@ ramp_gaps
sound                                 | none 98.7, some 1.3
coil_primary_open (intermittent)      | some 88, none 12
coil_feed_lost (intermittent)         | some 88, none 12
coil_control_open (intermittent)      | some 88, none 12
coil_driver_failed (intermittent)     | some 88, none 12

@ snap_reaction
sound                                 | rises 96, none 4
plug_shorted                          | none 88, rises 12
plug_tracking                         | none 70, rises 30
secondary_leak                        | none 85, rises 15
coil_secondary_shorted                | none 75, rises 25

@ leak_down
sound| tight 95, silent 2, intake 0.8, exhaust 0.8, oil_filler 0.9, coolant 0.2, neighbour 0.2
ring_or_piston_leak                   | oil_filler 32, oil_filler_blows 50, silent 6, tight 8, exhaust 2, intake 2
intake_valve_leak                     | intake 85, silent 5, tight 8, exhaust 1, oil_filler 1
exhaust_valve_leak                    | exhaust 85, silent 5, tight 8, intake 1, oil_filler 1
head_gasket_leak                      | neighbour 45, coolant 35, silent 8, tight 12
valve_timing_shifted (bent valves)    | intake 42, exhaust 40, tight 14, silent 4
low_compression_all                   | oil_filler 25, oil_filler_blows 30, tight 25, silent 10, exhaust 5, intake 5

@ visual:plug
sound                                 | clean 78, worn 9, fouled 5, wet 3, burnt 2, cracked 1, tracked 1, corroded 1
plug_gap_wide                         | worn 75, burnt 12, clean 8, damaged 3, fouled 2
plug_shorted                          | fouled 78, wet 8, cracked 5, damaged 4, clean 5
plug_tracking                         | tracked 80, cracked 10, burnt 4, clean 6
secondary_open                        | wet 40, clean 45, fouled 12, burnt 3
secondary_leak                        | clean 55, tracked 18, wet 12, fouled 8, burnt 7
coil_output_dead                      | wet 55, clean 30, fouled 15
coil_primary_open                     | wet 50, clean 38, fouled 12
coil_feed_lost                        | wet 40, clean 50, fouled 10
coil_control_open                     | wet 40, clean 50, fouled 10
coil_driver_failed                    | wet 40, clean 50, fouled 10
coil_secondary_shorted                | wet 25, clean 50, fouled 22, worn 3
injector_leaking                      | fouled 55, wet 30, clean 15
injector_driver_failed                | wet 40, clean 45, fouled 15
injector_driver_failed (dead)         | clean 85, wet 8, fouled 7
injector_driver_failed (held on)      | wet 62, fouled 28, clean 10
ring_or_piston_leak                   | fouled 40, wet 18, clean 40, damaged 2
intake_valve_leak                     | wet 25, clean 60, fouled 15
exhaust_valve_leak                    | wet 20, clean 65, fouled 15
head_gasket_leak                      | wet 35, clean 55, fouled 10
exhaust_valve_not_opening             | wet 45, clean 40, fouled 15

@ visual:coil
sound                                 | clean 95, cracked 1, burnt 0.5, tracked 0.5, corroded 2, damaged 1
secondary_leak                        | cracked 22, burnt 15, tracked 18, clean 45
coil_output_dead                      | burnt 20, cracked 12, clean 66, damaged 2
coil_secondary_shorted                | burnt 20, cracked 12, clean 66, damaged 2
coil_primary_open                     | burnt 12, clean 82, damaged 3, cracked 3

@ visual:lead
sound| clean 93, worn 2, corroded 2, burnt 0.6, cracked 1, damaged 1, tracked 0.5, wet 1, fouled 1
secondary_leak                        | burnt 40, cracked 22, tracked 16, damaged 10, clean 12
secondary_open                        | burnt 18, damaged 25, corroded 18, cracked 8, clean 31
secondary_high_resistance             | corroded 42, burnt 12, worn 6, damaged 8, clean 32

@ visual:connector
sound                                 | clean 93, corroded 3, damaged 2, burnt 0.5, worn 1, wet 1
coil_control_open                     | corroded 35, damaged 25, clean 38, burnt 2
coil_feed_lost                        | corroded 28, damaged 18, burnt 8, clean 46
injector_high_resistance              | corroded 50, burnt 6, damaged 6, clean 38
injector_control_open                 | corroded 35, damaged 25, clean 38, burnt 2
injector_open_circuit                 | corroded 12, damaged 8, clean 80

@ visual:cylinder
sound                                 | clean 90, worn 5, wet 2, damaged 1, burnt 1, fouled 2, cracked 0.5
ring_or_piston_leak                   | worn 40, damaged 32, wet 10, clean 18
exhaust_valve_leak                    | burnt 45, damaged 15, clean 40
intake_valve_leak                     | burnt 12, damaged 22, fouled 25, clean 41
head_gasket_leak                      | wet 30, burnt 15, clean 55
injector_leaking                      | wet 60, clean 40
"""
)
