"""Where the figures of the Trust page stand."""

from pathlib import Path

SHIPPED = Path(__file__).parent / "shipped.json"
"""The study on simulated worlds that nothing was fitted on."""
KNOWN = Path(__file__).parent / "known.json"
"""The same in the world that the simulator grew up in."""
ELSEWHERE = Path(__file__).parent / "elsewhere.json"
"""Cases of another model of engines, faults and instruments."""
OWN = Path("study") / "latest.json"
"""Below the data folder, where ``fairwitness study --kind policies --summary`` may put the shop's own."""
