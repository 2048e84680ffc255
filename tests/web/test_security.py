"""Headers and refusals: other sites, other hosts, large bodies; files that are shipped are the ones in the manifest."""

import hashlib
import json
import re
from pathlib import Path

import pytest

from rowanseed.cli import main
from rowanseed.web.security import MOST_BYTES

WEB = Path(__file__).parent.parent.parent / "rowanseed" / "web"
VENDOR = WEB / "static" / "vendor"


def test_every_answer_carries_a_strict_policy(client):
    for url in ("/", "/static/theme.css", "/api/v1/features", "/nowhere"):
        policy = client.get(url).headers["content-security-policy"]
        assert "default-src 'none'" in policy and "script-src 'self';" in policy and "unsafe" not in policy


@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "http://elsewhere.example"},
        {"Origin": "null"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
        {"Host": "elsewhere.example"},
        {"Host": "127.0.0.1.elsewhere.example"},
    ],
)
def test_a_write_from_elsewhere_is_refused(client, headers):
    assert client.post("/makes/2/wear/note", data={"text": "x", "kind": "happened"}, headers=headers).status_code == 403
    assert "x" not in client.get("/makes/2/wear").text.split("What was learned")[1][:40]


def test_a_write_from_our_own_page_and_from_a_script_is_taken(client):
    own = {"Origin": "http://127.0.0.1", "Sec-Fetch-Site": "same-origin"}
    for headers in (own, {}):
        assert (
            client.post("/makes/2/wear/note", data={"text": "fine", "kind": "happened"}, headers=headers).status_code
            == 200
        )


def test_another_host_may_not_even_read(client):
    assert client.get("/", headers={"Host": "rebound.example:8765"}).status_code == 403


def test_a_body_that_is_too_large_is_refused(client):
    def bits():
        for _ in range(MOST_BYTES // 1_000_000 + 1):
            yield b"x" * 1_000_000

    # In pieces, without a header that says how long it is: what counts is what arrives.
    for url, kind in (("/patterns/import", "multipart/form-data; boundary=x"), ("/api/v1/lay", "application/json")):
        answer = client.post(url, content=bits(), headers={"Content-Type": kind})
        assert answer.status_code == 413 and "too large" in answer.text


def test_the_server_binds_to_this_machine_only(capsys):
    assert main(["serve", "--host", "0.0.0.0", "--port", "1"]) == 2
    assert "this machine only" in capsys.readouterr().err


def test_the_version_is_printed(capsys):
    assert main(["version"]) == 0
    assert re.fullmatch(r"\d+\.\d+\.\d+\n", capsys.readouterr().out)


def test_the_vendored_files_are_the_manifests():
    manifest = json.loads((VENDOR / "manifest.json").read_text())
    listed = {f["path"]: f["sha256"] for package in manifest for f in package["files"]}
    there = {p.relative_to(VENDOR).as_posix() for p in VENDOR.rglob("*") if p.is_file()} - {"manifest.json"}
    assert set(listed) == there
    for path, digest in listed.items():
        assert hashlib.sha256((VENDOR / path).read_bytes()).hexdigest() == digest, path
    assert all(p["version"] and p["licence"] for p in manifest)


def test_no_page_or_style_of_ours_names_another_host():
    for path in [*WEB.rglob("*.html"), *(p for p in WEB.rglob("*.css") if VENDOR not in p.parents)]:
        assert not re.search(r"""(src|href|url\()\s*=?\s*["']?(https?:)?//""", path.read_text()), path


def test_colours_of_text_reach_aa_contrast_on_paper():
    # WCAG 2.2, success criterion 1.4.3: at least 4.5 to 1 for text.
    css = (WEB / "static" / "theme.css").read_text()
    colours = dict(re.findall(r"--([a-z-]+): (#[0-9A-F]{6});", css))

    def light(hex_):
        parts = [int(hex_[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        r, g, b = (c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in parts)
        return 0.2126 * r + 0.7152 * g + 0.0722 * b

    def contrast(a, b):
        high, low = sorted((light(a), light(b)), reverse=True)
        return (high + 0.05) / (low + 0.05)

    for name in ("ink", "ink-soft", "rowan", "leaf", "slate", "straw-ink"):
        assert contrast(colours[name], colours["paper"]) >= 4.5, name
        assert contrast(colours[name], "#FFFFFF") >= 4.5, name
    assert contrast("#FFFFFF", colours["rowan"]) >= 4.5
