"""The part of the table of outcomes that looks at the whole engine: first look, no start, common circuits [M]."""

ENGINE = """
@ first_look:cadence
sound                                 | even 96, labouring 2, one_missing 1, fast_even 1
ring_or_piston_leak                   | one_missing 55, even 45
intake_valve_leak                     | one_missing 55, even 45
exhaust_valve_leak                    | one_missing 55, even 45
intake_valve_not_opening              | one_missing 65, even 35
head_gasket_leak                      | one_missing 60, even 40
valve_timing_shifted                  | even 50, fast_even 30, one_missing 20
low_compression_all                   | fast_even 50, even 50
washed_bores                          | fast_even 85, even 15
weak_battery                          | labouring 92, even 8
injector_driver_failed (held on)      | even 70, hard_stop 25, one_missing 5
unit_misbehaves                       | even 80, hard_stop 15, fast_even 5

@ first_look:dash_lamp
sound                                 | lights 97, dark 2, immobiliser 1
unit_unpowered                        | dark 93, lights 7
immobiliser_locked                    | immobiliser 85, lights 15

@ first_look:pump_prime
sound                                 | heard 94, silent 6
fuel_supply_none                      | silent 80, heard 20
unit_unpowered                        | silent 85, heard 15
immobiliser_locked                    | heard 60, silent 40

@ first_look:oil
sound                                 | usual 95, very_low 3, over_full 1, milky 1
injector_leaking                      | usual 65, over_full 35
injector_driver_failed (held on)      | over_full 60, usual 40
unit_misbehaves                       | usual 60, over_full 40
washed_bores                          | usual 60, over_full 40
head_gasket_leak                      | usual 75, milky 25
valve_timing_shifted                  | usual 85, very_low 15

@ first_look:terminals
sound                                 | tight 97, loose 3
weak_battery                          | tight 65, loose 35

@ first_look:hoses
sound                                 | on 97, off 3
unmetered_air_at_runner               | on 70, off 30

@ first_look:plug_wells
sound                                 | dry 95, oil 3, water 1, off 1
secondary_leak                        | dry 60, oil 25, water 15
plug_tracking                         | dry 70, oil 20, water 10
secondary_open                        | dry 80, off 20

@ first_look:timing_marks
sound                                 | in_line 98, off 2
valve_timing_shifted                  | off 90, in_line 10

@ no_start:spark
sound                                 | strong 94, weak 3, none 1, comes_and_goes 1, key_on 1
crank_signal_lost                     | none 90, comes_and_goes 9, strong 1
ignition_common_lost                  | none 95, weak 4, strong 1
unit_unpowered                        | none 97, strong 3
reference_bad                         | none 60, comes_and_goes 20, strong 20
unit_misbehaves                       | none 45, key_on 35, strong 20
immobiliser_locked                    | none 55, strong 45
outside_interference                  | comes_and_goes 55, strong 40, none 5
plugs_all_worn                        | strong 90, weak 10
cam_signal_wrong                      | strong 70, none 20, comes_and_goes 10
weak_battery                          | weak 45, strong 40, comes_and_goes 15
coil_output_dead (common)             | none 92, weak 6, strong 2
coil_secondary_shorted (common)       | none 55, weak 37, strong 8
coil_primary_open (common)            | none 97, strong 3
coil_feed_lost (common)               | none 96, weak 2, strong 2
coil_control_open (common)            | none 97, strong 3
coil_driver_failed (common)           | none 80, weak 15, strong 5
secondary_open (common)               | none 55, weak 30, strong 15
secondary_leak (common)               | weak 50, none 30, strong 20

@ no_start:injector_pulse
sound                                 | flashes 96, none 3, held 1
crank_signal_lost                     | none 95, flashes 5
unit_unpowered                        | none 98, flashes 2
reference_bad                         | none 65, flashes 35
unit_misbehaves                       | held 70, none 20, flashes 10
immobiliser_locked                    | none 85, flashes 15
cam_signal_wrong                      | flashes 60, none 40
injector_feed_lost (common)           | none 93, flashes 7

@ no_start:crank_signal
sound                                 | present 97, none 1, broken 2
crank_signal_lost                     | none 75, broken 24, present 1
outside_interference                  | broken 75, present 25
reference_bad                         | present 55, none 25, broken 20
unit_unpowered                        | present 70, none 30

@ no_start:coil_ramp
sound                                 | ramp 96, none 3, steep 1
crank_signal_lost                     | none 92, ramp 8
ignition_common_lost                  | none 96, ramp 4
unit_unpowered                        | none 98, ramp 2
reference_bad                         | none 60, ramp 40
unit_misbehaves                       | ramp 55, none 45
immobiliser_locked                    | none 55, ramp 45
coil_secondary_shorted                | ramp 60, steep 40
coil_secondary_shorted (common)       | steep 70, ramp 30
coil_primary_open (common)            | none 98, ramp 2
coil_feed_lost (common)               | none 97, ramp 3
coil_control_open (common)            | none 97, ramp 3
coil_driver_failed (common)           | none 55, ramp 45

@ no_start:fuel_by_hand
sound                                 | nothing 94, fires 6
fuel_supply_none                      | fires 88, nothing 12
fuel_supply_low                       | fires 55, nothing 45
injector_feed_lost (common)           | fires 75, nothing 25
immobiliser_locked                    | nothing 65, fires 35
cam_signal_wrong                      | nothing 80, fires 20

@ engine_circuits:unit_supply
sound                                 | good 97, low 3
unit_unpowered                        | low 95, good 5

@ engine_circuits:reference
sound                                 | good 97, low 3
reference_bad                         | low 60, good 40
unit_unpowered                        | low 90, good 10

@ engine_circuits:sensor_earth
sound                                 | good 97, bad 3
reference_bad                         | bad 50, good 50

@ engine_circuits:key_on
sound                                 | quiet 98, held 1, fires 1
unit_misbehaves                       | held 60, fires 30, quiet 10
injector_driver_failed (held on)      | held 70, quiet 30

@ engine_circuits:interference
sound                                 | none 90, with_coils 8, others 2
outside_interference                  | others 90, none 10
secondary_leak                        | none 60, with_coils 40
"""
