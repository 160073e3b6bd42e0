"""What is said, apart from how it is worded.

Measurements and reasoning make messages: an id and the values that go with it. Words, units of display and decimal
marks are chosen when something is read, here and nowhere else. English stands beside the code that says it, in
templates that enter the catalogue as their module is imported; another language maps the same ids to its own.
"""
