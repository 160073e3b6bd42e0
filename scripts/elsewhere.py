#!/usr/bin/env python3
"""Writes what a scorer of cases of another model printed for the Trust page.

.venv/bin/python scripts/elsewhere.py printed.txt
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

from fairwitness.server.trust.files import ELSEWHERE
from fairwitness.study.elsewhere import read_scores

if __name__ == "__main__":
    ELSEWHERE.write_text(json.dumps(read_scores(Path(sys.argv[1]).read_text()), indent=1) + "\n")
