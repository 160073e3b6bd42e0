"""Estimating what readings weigh, from vehicles of many worlds whose faults are known."""
