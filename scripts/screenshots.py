"""Current pictures of the main views, from the demo data, at 1280 x 800: `make screenshots`."""

import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

SHOTS = Path(__file__).parent.parent / "docs" / "screenshots"
PORT = 8797
BASE = f"http://127.0.0.1:{PORT}"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
VIEWS = {
    "makes": "/",
    "which-size": "/which-size?garment=dress&bust=92&waist=74&hip=98&width=140&length=2.2%20m",
    "fit": "/makes/2/fit",
    "cloth": "/makes/3/cloth",
    "yardage": "/patterns/2/yardage",
    "lay": "/makes/2/lay",
    "lay-folded": "/makes/4/lay",
    "print": "/makes/5/lay/print",
    "cut": "/makes/4/cut",
    "sew": "/makes/2/sew",
    "at-the-machine": "/makes/2/sew/machine?step=ease-sleeve-cap",
    "wear": "/makes/1/wear",
    "person": "/people/5",
    "pattern": "/patterns/1",
    "piece": "/patterns/1/pieces/3",
    "pattern-file": "/patterns/intake/1",
    "photograph": "/patterns/intake/3",
    "could": "/could?want=1:A&want=2:A&want=3:A",
    "bench": "/bench",
}
LAY = "button:has-text('known')"
FROM = {
    "print": "h2 >> nth=0",
    "person": "h2 >> nth=0",
}


def take(page: Page, name: str, url: str) -> None:
    """One view; tall ones are scrolled to what they are about."""
    page.goto(BASE + url, wait_until="networkidle", timeout=180_000)
    if name == "yardage":
        page.click("text=Work out the")
        page.wait_for_selector("[role=status]", state="detached", timeout=240_000)
    if name == "could":
        while page.locator(LAY).count():  # first what is not known, then what is known only as a bound
            page.click(LAY)
            page.wait_for_selector("#could:not([hx-get])", timeout=240_000)
    if name == "which-size":
        page.wait_for_selector(".verdict .enough", timeout=120_000)
        page.wait_for_selector("text=so far", state="detached", timeout=120_000)
    if name == "pattern-file":
        page.wait_for_selector(".intake-sheet", timeout=60_000)
    if name == "photograph":
        page.wait_for_selector("[data-trace]", timeout=120_000)
        page.click("[data-do=find]")
        page.wait_for_selector(".traced", timeout=60_000)
    page.evaluate("document.fonts.ready")
    if name in FROM:
        page.locator(FROM[name]).first.evaluate("e => window.scrollTo(0, e.getBoundingClientRect().top - 16)")
    page.screenshot(path=SHOTS / f"{name}.png")


def main() -> None:
    """Serve a fresh demo household and take every view."""
    SHOTS.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "rowanseed", "demo", "--port", str(PORT), "--database", f"{folder}/demo.db"]
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        try:
            for _ in range(600):
                try:
                    urllib.request.urlopen(BASE + "/settings", timeout=5).read()
                    break
                except OSError:
                    time.sleep(0.2)
            with sync_playwright() as p:
                browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
                page = browser.new_page(viewport={"width": 1280, "height": 800})
                for name, url in VIEWS.items():
                    take(page, name, url)
                browser.close()
        finally:
            server.terminate()
            server.wait()


if __name__ == "__main__":
    main()
