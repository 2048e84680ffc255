"""The house's dependency rule: imports point inward, the core reads no files, no clock and serves no pages."""

import ast
import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent / "rowanseed"
MAY_IMPORT = {
    "core": {"core"},
    "formats": {"formats", "core", "content"},
    "store": {"store", "core", "content"},
    "jobs": {"jobs", "core", "formats", "store"},
    "demo": {"demo", "core", "formats", "store", "jobs"},
    "services": {"services", "core", "formats", "store", "jobs"},
    "web": {"web", "services", "core", "formats", "store", "jobs", "demo"},
    "content": set(),
}
NOT_IN_CORE = {
    "fastapi",
    "starlette",
    "sqlite3",
    "jinja2",
    "uvicorn",
    "os",
    "pathlib",
    "io",
    "urllib",
    "socket",
    "requests",
}


def imports(path):
    """Modules a file imports, dotted."""
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            assert node.level == 0, f"{path}: relative import"
            yield node.module
            yield from (f"{node.module}.{alias.name}" for alias in node.names)


@pytest.mark.parametrize("package", MAY_IMPORT)
def test_a_package_imports_only_what_lies_further_in(package):
    for path in (ROOT / package).rglob("*.py"):
        for module in imports(path):
            parts = module.split(".")
            if parts[0] == "rowanseed" and len(parts) > 1 and (ROOT / parts[1]).is_dir():
                assert parts[1] in MAY_IMPORT[package], f"{path.name} imports {module}"


def test_the_core_touches_no_interface_no_store_no_files_and_no_clock():
    for path in (ROOT / "core").rglob("*.py"):
        assert not {m.split(".")[0] for m in imports(path)} & NOT_IN_CORE, path
        calls = {
            n.func.id
            for n in ast.walk(ast.parse(path.read_text()))
            if isinstance(n, ast.Call) and isinstance(n.func, ast.Name)
        }
        assert not calls & {"open", "print", "input"}, path


def inner(path):
    return {m.split(".")[2] for m in imports(path) if m.startswith("rowanseed.core.") and len(m.split(".")) > 2}


def test_inside_the_core_lay_and_sew_do_not_import_each_other():
    assert not any("sew" in inner(p) for p in (ROOT / "core" / "lay").rglob("*.py"))
    assert not any("lay" in inner(p) - {"lay.model"} for p in (ROOT / "core" / "sew").rglob("*.py"))


def test_lengths_lie_at_the_bottom():
    assert inner(ROOT / "core" / "lengths.py") == {"errors"}


def test_the_checker_shares_no_code_with_the_nester():
    checker = {"rowanseed.core.lay.model", "rowanseed.core.lay.check_flaws", "rowanseed.core.lay.check_print"}
    for name in ("check.py", "check_flaws.py", "check_print.py"):  # no part may reach the nester, nor through the other
        own = {m for m in imports(ROOT / "core" / "lay" / name) if m.startswith("rowanseed.core.lay.")}
        assert {".".join(m.split(".")[:4]) for m in own} <= checker, name
        assert any(m.startswith("rowanseed.core.lay.model") for m in own), name


def test_every_public_function_of_the_inner_packages_is_documented():
    for package in ("core", "store", "formats", "jobs"):
        for path in (ROOT / package).rglob("*.py"):
            tree = ast.parse(path.read_text())
            assert ast.get_docstring(tree), path
            for node in tree.body:
                if isinstance(node, (ast.FunctionDef, ast.ClassDef)) and not node.name.startswith("_"):
                    assert ast.get_docstring(node), f"{path.name}: {node.name}"


def test_no_python_writes_markup_by_hand():
    """Pages come from templates and drawings from `formats.drawing`: a text that begins like a tag is neither."""
    for path in ROOT.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Constant) and isinstance(node.value, str):
                assert not re.match(r"\s*</?[a-z]", node.value), f"{path.name}:{node.lineno} {node.value[:40]}"


def test_no_line_of_a_template_is_too_long_to_be_read():
    long = [
        f"{file.name}:{number}"
        for file in (ROOT / "web" / "templates").rglob("*.html")
        for number, line in enumerate(file.read_text(encoding="utf-8").split("\n"), start=1)
        if len(line) > 200
    ]
    assert not long
