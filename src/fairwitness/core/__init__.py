"""The rules of the job: pure functions over arrays and frozen dataclasses."""
