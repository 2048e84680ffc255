"""What CONTRIBUTING.md names is there: files, constants, commands and addresses."""

import re
from pathlib import Path

ROOT = Path(__file__).parents[1]
TEXT = (ROOT / "CONTRIBUTING.md").read_text()


def is_there(name):
    """Whether a path that is named stands in the source, as it is or without its ending."""
    bases = [ROOT, ROOT / "rowanseed", ROOT / "tests", ROOT / "tests/browser"]
    return any((base / f"{name}{end}").exists() for base in bases for end in ("", ".py", ".html"))


def test_every_file_that_is_named_is_there():
    named = {n for n in re.findall(r"`([\w/.-]+/[\w.-]+|[\w-]+\.\w+)`", TEXT) if not n.startswith(("POST", "http"))}
    named = {n.split("/<")[0] for n in named if "<" not in n}
    assert len(named) > 20
    missing = {
        n
        for n in named
        if not is_there(n) and not any(ROOT.rglob(f"{n}.py")) and not any(ROOT.glob(f"rowanseed/**/{n}"))
    }
    assert missing == set()


def test_every_command_is_a_target_and_every_name_is_defined():
    makefile = (ROOT / "Makefile").read_text()
    assert all(re.search(rf"^{target}:", makefile, re.M) for target in re.findall(r"`make (\w+)`", TEXT))
    source = "\n".join(p.read_text() for p in [*ROOT.glob("rowanseed/**/*.py"), *ROOT.glob("tests/**/*.py")])
    names = set(re.findall(r"`([A-Z][A-Z_]+|AlterationKind|Calculator)`", TEXT)) - {"POST"}
    assert len(names) >= 8
    assert all(re.search(rf"^(?:class )?{name}\b", source, re.M) for name in names)
    assert '"/reckon"' in source  # the interface's address for a sum
