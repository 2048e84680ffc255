"""What is installed: every file that the application needs, with the licences of what it brings along; its version."""

import subprocess
import sys
import tomllib
from pathlib import Path

from rowanseed import __version__

ROOT = Path(__file__).parents[1]


def test_every_file_is_packed_with_the_licences_of_what_is_brought_along():
    patterns = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["setuptools"]["package-data"]["rowanseed"]
    here = [f for f in (ROOT / "rowanseed").rglob("*") if f.is_file() and "__pycache__" not in f.parts]
    assert len(here) > 600
    left = [str(f.relative_to(ROOT)) for f in here if f.suffix != ".py" and not any(f.match(p) for p in patterns)]
    assert not left
    assert sum(f.name in ("LICENSE", "NOTICE") for f in here) >= 6


def test_the_version_is_told_by_the_command_and_is_that_of_the_package():
    told = subprocess.run([sys.executable, "-m", "rowanseed", "--version"], capture_output=True, text=True, check=True)
    assert told.stdout.strip() == __version__
    assert tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["version"] == __version__


def test_the_readme_names_the_wheel_as_it_is_built():
    assert f"rowanseed-{__version__}-py3-none-any.whl" in (ROOT / "README.md").read_text()
