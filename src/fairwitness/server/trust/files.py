"""Where the figures of the Trust page stand."""

from pathlib import Path

SHIPPED = Path(__file__).parent / "shipped.json"
"""The study on the project's own simulator."""
ELSEWHERE = Path(__file__).parent / "elsewhere.json"
"""Cases of another model of engines, faults and instruments."""
OWN = Path("study") / "latest.json"
"""Below the data folder, where ``fairwitness study --kind policies --summary`` may put the shop's own."""
