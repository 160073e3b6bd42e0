"""What is loaded before the application answers, and what after."""

import json
import os
import re
import subprocess
import sys
from pathlib import Path

import fairwitness.core
from fairwitness.server import warming

LOADED = """
import fairwitness.server.asgi
from django.urls import get_resolver
from django.core.signals import request_finished
from fairwitness.server import warming
import json, sys, threading
get_resolver().url_patterns
def heavy():
    return [p for p in warming.PARTS if f"scipy.{p}" in sys.modules]
before = heavy()
for _ in range(3):
    request_finished.send(None)
threads = [t for t in threading.enumerate() if t.name == warming.NAME]
for t in threads:
    t.join()
print(json.dumps([before, len(threads), heavy()]))
"""


def test_parts_of_scipy_come_after_the_first_answer_and_once(tmp_path):
    env = os.environ | {"FAIRWITNESS_DATA": str(tmp_path), "DJANGO_SETTINGS_MODULE": "fairwitness.server.settings"}
    done = subprocess.run([sys.executable, "-c", LOADED], env=env, capture_output=True, text=True, check=True)
    before, threads, after = json.loads(done.stdout.splitlines()[-1])
    assert before == []
    assert threads == 1
    assert after == list(warming.PARTS)


def test_every_part_is_one_the_core_names():
    core = Path(fairwitness.core.__file__).parent
    named = {
        part for module in core.rglob("*.py") for part in re.findall(r"scipy\.([a-z]+)\.\w+\(", module.read_text())
    }
    assert named == set(warming.PARTS)
