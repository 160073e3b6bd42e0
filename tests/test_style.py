"""Figures of style: sizes of modules and functions, numbers of parameters, import cycles, docstrings of the core."""

from __future__ import annotations

import ast
from pathlib import Path

import grimp
import pytest

ROOT = Path(__file__).resolve().parents[1] / "src" / "fairwitness"
MODULES = sorted(p for p in ROOT.rglob("*.py") if "migrations" not in p.parts)
LINES_MOST, BODY_MOST, PARAMETERS_MOST = 400, 60, 6


def functions(path):
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            yield node


def body_lines(node):
    first = node.body[0]
    documented = isinstance(first, ast.Expr) and isinstance(first.value, ast.Constant)
    body = node.body[1:] if documented else node.body
    return body[-1].end_lineno - body[0].lineno + 1 if body else 0


def parameters(node):
    named = [a.arg for a in (*node.args.posonlyargs, *node.args.args)]
    return len(named) + len(node.args.kwonlyargs) - (named[:1] in (["self"], ["cls"]))


@pytest.mark.parametrize("path", MODULES, ids=lambda p: str(p.relative_to(ROOT)))
def test_modules_and_functions_stay_short(path):
    assert len(path.read_text().splitlines()) <= LINES_MOST
    assert {f.name: n for f in functions(path) if (n := body_lines(f)) > BODY_MOST} == {}
    many = {f.name: n for f in functions(path) if (n := parameters(f)) > PARAMETERS_MOST}
    assert many == {}


def test_no_module_imports_itself_over_others():
    graph = grimp.build_graph("fairwitness")  # with imports inside functions
    uses = {m: {i for i in graph.find_modules_directly_imported_by(m) if i != m} for m in graph.modules}
    while True:  # what imports nobody, or only what was taken out, is in no circle
        free = {m for m, others in uses.items() if not others}
        if not free:
            break
        uses = {m: others - free for m, others in uses.items() if m not in free}
    assert sorted(uses) == []


def test_every_module_and_folder_says_what_it_is_for():
    silent = [str(p.relative_to(ROOT)) for p in MODULES if ast.get_docstring(ast.parse(p.read_text())) is None]
    assert silent == []


@pytest.mark.parametrize("path", [p for p in MODULES if "core" in p.parts], ids=lambda p: str(p.relative_to(ROOT)))
def test_public_names_of_the_core_say_what_they_do(path):
    tree = ast.parse(path.read_text())
    public = [
        node for node in tree.body if isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_")
    ]
    assert [node.name for node in public if ast.get_docstring(node) is None] == []
