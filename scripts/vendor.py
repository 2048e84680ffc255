"""Refresh the front-end files in rowanseed/web/static/vendor from the npm registry.

Run `python scripts/vendor.py` with npm on the PATH. Each package is fetched at its pinned version with
`npm pack`, the named files are copied, and versions, licences and SHA-256 sums are written to
`manifest.json`, which a test holds against the files.
"""

import hashlib
import json
import shutil
import subprocess
import tarfile
import tempfile
from dataclasses import dataclass
from pathlib import Path

VENDOR = Path(__file__).parent.parent / "rowanseed" / "web" / "static" / "vendor"


@dataclass(frozen=True)
class Package:
    """One npm package: its pinned version, licence, and the files taken, by path in the package."""

    name: str
    version: str
    licence: str
    files: tuple[str, ...]


FONT_NEXT = "files/atkinson-hyperlegible-next-latin"
FONT_BITTER = "files/bitter-latin"
PACKAGES = (
    Package("bootstrap", "5.3.9", "MIT", ("dist/css/bootstrap.min.css", "LICENSE")),
    Package("htmx.org", "2.0.11", "0BSD", ("dist/htmx.min.js", "LICENSE")),
    Package("@alpinejs/csp", "3.17.4", "MIT", ("dist/cdn.min.js",)),
    Package("swagger-ui-dist", "5.35.0", "Apache-2.0", ("swagger-ui-bundle.js", "swagger-ui.css", "LICENSE", "NOTICE")),
    Package(
        "@fontsource/atkinson-hyperlegible-next",
        "5.3.0",
        "OFL-1.1",
        (
            f"{FONT_NEXT}-400-normal.woff2",
            f"{FONT_NEXT}-400-italic.woff2",
            f"{FONT_NEXT}-700-normal.woff2",
            "LICENSE",
        ),
    ),
    Package(
        "@fontsource/bitter",
        "5.3.0",
        "OFL-1.1",
        (f"{FONT_BITTER}-700-normal.woff2", "LICENSE"),
    ),
)


def fetch(package: Package, scratch: Path) -> Path:
    """Pack and unpack one npm package in the scratch folder; return its root folder."""
    subprocess.run(
        ["npm", "pack", "--silent", f"{package.name}@{package.version}"], cwd=scratch, check=True, capture_output=True
    )
    archive = next(scratch.glob("*.tgz"))
    with tarfile.open(archive) as tar:
        tar.extractall(scratch, filter="data")
    archive.unlink()
    return scratch / "package"


def copy_files(package: Package, root: Path) -> list[dict[str, str]]:
    """Copy a package's chosen files under the vendor folder; return their manifest entries."""
    folder = VENDOR / package.name.replace("@", "").replace("/", "-")
    folder.mkdir(parents=True)
    entries = []
    for name in package.files:
        target = folder / Path(name).name
        shutil.copyfile(root / name, target)
        digest = hashlib.sha256(target.read_bytes()).hexdigest()
        entries.append({"path": target.relative_to(VENDOR).as_posix(), "sha256": digest})
    return entries


def main() -> None:
    """Replace the vendor folder and write its manifest."""
    shutil.rmtree(VENDOR, ignore_errors=True)
    VENDOR.mkdir(parents=True)
    manifest = []
    for package in PACKAGES:
        with tempfile.TemporaryDirectory() as scratch:
            files = copy_files(package, fetch(package, Path(scratch)))
        manifest.append(
            {"package": package.name, "version": package.version, "licence": package.licence, "files": files}
        )
    (VENDOR / "manifest.json").write_text(json.dumps(manifest, indent=2) + "\n")


if __name__ == "__main__":
    main()
