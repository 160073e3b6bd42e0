"""What the first capture needs of scipy, loaded after the first answer instead of before it.

The core names scipy's parts as ``scipy.signal`` and the like, which scipy loads when they are first named: together
more than a second. Whoever starts the application sees it sooner; whoever opens a case a moment later does not wait
for them. What is then in memory stays to the end, and is left out when Python looks for what can be thrown away: going
through all of it took a sixth of a second, now and then, in the middle of an answer.
"""

from __future__ import annotations

import gc
import importlib
import threading
from typing import Any

from django.core.signals import request_finished

PARTS = ("ndimage", "special", "optimize", "signal", "stats", "interpolate")
"""In the order in which a board needs them."""
NAME = "warming"


def after_first_answer() -> None:
    """Have the parts loaded by a thread as soon as one request has been answered."""
    request_finished.connect(_begin, dispatch_uid=NAME)


def _begin(**_: Any) -> None:
    if request_finished.disconnect(dispatch_uid=NAME):
        threading.Thread(target=load, name=NAME, daemon=True).start()


def load() -> None:
    """Load the parts one after the other, then keep what is there; a request meanwhile waits for the part it needs."""
    for part in PARTS:
        importlib.import_module(f"scipy.{part}")
    gc.collect()
    gc.freeze()
