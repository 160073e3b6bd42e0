"""Rows of outcomes of what is read electrically: resistance, voltage, command, injection; see ``outcomes``."""

ELECTRICAL = """
@ resistance:coil_primary
sound                                 | normal 96, high 2, low 1, open 1
coil_primary_open                     | open 95, high 3, normal 2
coil_secondary_shorted                | normal 85, low 15

@ resistance:coil_secondary
sound                                 | normal 92, high 2, low 1, open 5
coil_output_dead                      | open 62, normal 20, high 10, low 8
coil_secondary_shorted                | low 62, normal 34, high 2, open 2

@ resistance:plug_lead
sound                                 | normal 96, high 2, low 1, open 1
secondary_open                        | open 93, high 4, normal 3
secondary_high_resistance             | high 90, open 4, normal 6

@ resistance:injector
sound                                 | normal 96, high 2, low 1, open 1
injector_open_circuit                 | open 93, normal 5, high 2
injector_high_resistance              | high 70, normal 30
injector_shorted                      | low 95, normal 5

@ resistance:control_wire
sound                                 | normal 97, high 2, low 0, open 1
coil_control_open                     | open 90, high 8, normal 2
injector_control_open                 | open 90, high 8, normal 2
injector_high_resistance              | high 40, normal 60

@ resistance:feed_wire
sound                                 | normal 97, high 2, low 0, open 1
coil_feed_lost                        | open 75, high 15, normal 10
injector_feed_lost                    | open 75, high 15, normal 10

@ pin_to_pin:feed
sound                                 | closed 98, open 2
injector_feed_lost                    | open 75, closed 25

@ pin_to_pin:control
sound                                 | closed 98, open 2
injector_control_open                 | open 90, closed 10

@ pin_to_pin:across
sound                                 | closed 98, open 2
injector_open_circuit                 | open 93, closed 7
injector_control_open                 | open 75, closed 25
injector_feed_lost                    | open 60, closed 40

@ voltage:coil_feed
sound                                 | normal 97, low 2, absent 1
coil_feed_lost                        | absent 85, low 14, normal 1
ignition_common_lost                  | absent 60, low 10, normal 30

@ voltage:injector_feed
sound                                 | normal 97, low 2, absent 1
injector_feed_lost                    | absent 85, low 14, normal 1
fuel_supply_low                       | normal 90, low 10

@ voltage:coil_earth
sound                                 | normal 97, high 3
coil_feed_lost                        | normal 80, high 20
coil_secondary_shorted                | normal 92, high 8

@ voltage:coil_control_low:part
sound                                 | normal 97, elevated 3
coil_driver_failed                    | elevated 85, normal 15
coil_control_open                     | normal 85, elevated 15
coil_output_dead                      | normal 92, elevated 8
coil_primary_open                     | normal 92, elevated 8

@ voltage:coil_control_low:part_unplugged voltage:coil_control_low:control_unit
@ voltage:coil_control_low:control_unit_unplugged
sound                                 | normal 98, elevated 2
coil_driver_failed                    | elevated 85, normal 15

@ voltage:coil_control_high:part voltage:coil_control_high:part_unplugged
sound                                 | normal 97, absent 3
coil_control_open                     | absent 93, normal 7
coil_driver_failed                    | absent 45, normal 55

@ voltage:coil_control_high:control_unit voltage:coil_control_high:control_unit_unplugged
sound                                 | normal 98, absent 2
coil_driver_failed                    | absent 45, normal 55

@ voltage:injector_control:part
sound                                 | battery 96, bias 3, zero 1
injector_open_circuit                 | bias 80, zero 12, battery 8
injector_control_open                 | battery 80, bias 14, zero 6
injector_feed_lost                    | bias 45, zero 53, battery 2
injector_driver_failed                | battery 50, zero 45, bias 5
injector_driver_failed (dead)         | battery 92, zero 5, bias 3
injector_driver_failed (held on)      | zero 88, battery 10, bias 2
injector_high_resistance              | battery 92, bias 8

@ voltage:injector_control:control_unit
sound                                 | battery 96, bias 3, zero 1
injector_open_circuit                 | bias 85, zero 10, battery 5
injector_control_open                 | bias 85, zero 10, battery 5
injector_feed_lost                    | bias 50, zero 48, battery 2
injector_driver_failed                | battery 50, zero 45, bias 5
injector_driver_failed (dead)         | battery 92, zero 5, bias 3
injector_driver_failed (held on)      | zero 88, battery 10, bias 2

@ voltage:injector_control:part_unplugged voltage:injector_control:control_unit_unplugged
sound                                 | bias 55, zero 40, battery 5
injector_driver_failed                | zero 60, bias 30, battery 10
injector_driver_failed (dead)         | zero 45, bias 40, battery 15
injector_driver_failed (held on)      | zero 90, bias 8, battery 2

@ command:part command:part_unplugged
sound                                 | pulses 97, elevated 1, stuck 1, absent 1
coil_control_open                     | absent 88, stuck 5, elevated 3, pulses 4
coil_driver_failed                    | elevated 50, stuck 24, absent 22, pulses 4

@ command:control_unit command:control_unit_unplugged
sound                                 | pulses 97, elevated 1, stuck 1, absent 1
coil_driver_failed                    | elevated 50, stuck 24, absent 22, pulses 4

@ injector_command:part injector_command:part_unplugged
sound                                 | pulses 98, absent 1, stuck 1
injector_control_open                 | absent 93, pulses 2, stuck 5
injector_feed_lost                    | pulses 72, absent 8, stuck 20
injector_open_circuit                 | pulses 84, absent 10, stuck 6
injector_driver_failed                | absent 50, stuck 47, pulses 3
injector_driver_failed (dead)         | absent 95, stuck 4, pulses 1
injector_driver_failed (held on)      | stuck 93, absent 4, pulses 3
cut_by_ecu                            | absent 95, pulses 5
coil_primary_open                     | pulses 45, absent 55
coil_feed_lost                        | pulses 45, absent 55
coil_control_open                     | pulses 45, absent 55
coil_driver_failed                    | pulses 45, absent 55
coil_output_dead                      | pulses 80, absent 20

@ injector_command:control_unit injector_command:control_unit_unplugged
sound                                 | pulses 98, absent 1, stuck 1
injector_control_open                 | pulses 82, absent 12, stuck 6
injector_feed_lost                    | pulses 72, absent 8, stuck 20
injector_open_circuit                 | pulses 84, absent 10, stuck 6
injector_driver_failed                | absent 50, stuck 47, pulses 3
injector_driver_failed (dead)         | absent 95, stuck 4, pulses 1
injector_driver_failed (held on)      | stuck 93, absent 4, pulses 3
cut_by_ecu                            | absent 95, pulses 5
coil_primary_open                     | pulses 45, absent 55
coil_feed_lost                        | pulses 45, absent 55
coil_control_open                     | pulses 45, absent 55
coil_driver_failed                    | pulses 45, absent 55
coil_output_dead                      | pulses 80, absent 20

@ injector_on_time
sound                                 | usual 99.3, long 0.7
injector_driver_failed                | usual 45, long 55
injector_driver_failed (dead)         | usual 98, long 2
injector_driver_failed (held on)      | long 75, usual 25

@ injector_bump
sound                                 | alike 98, missing 2
injector_stuck_closed                 | missing 72, alike 28
injector_restricted                   | alike 90, missing 10

@ key_cycle
sound                                 | never_away 97, stays_away 2, returns 1
cut_by_ecu                            | returns 88, stays_away 12
injector_driver_failed                | stays_away 96, returns 2, never_away 2
injector_driver_failed (dead)         | stays_away 97, returns 2, never_away 1
injector_driver_failed (held on)      | never_away 60, stays_away 39, returns 1
injector_open_circuit                 | stays_away 96, returns 4
injector_control_open                 | stays_away 96, returns 4
injector_feed_lost                    | stays_away 96, returns 4
injector_shorted                      | stays_away 70, never_away 25, returns 5
coil_output_dead                      | never_away 70, returns 28, stays_away 2
coil_primary_open                     | returns 60, never_away 38, stays_away 2
coil_feed_lost                        | returns 60, never_away 38, stays_away 2
coil_control_open                     | returns 60, never_away 38, stays_away 2
coil_driver_failed                    | returns 60, never_away 38, stays_away 2

"""
