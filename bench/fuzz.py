"""Damaged pattern files and photographs by the thousand: each must be read, or refused in words, within time and memory.

`python -m bench.fuzz --count 10000` takes sample files apart at random and reads what is left. A child process reads a batch; one
that dies, or an error that is not said in words, is counted and its file's seed printed.
"""

import argparse
import multiprocessing
import random
import resource
import time
from collections import Counter
from multiprocessing.connection import Connection

import cv2

from rowanseed.core.errors import IntakeError
from rowanseed.demo import overshirt, trousers
from rowanseed.demo.photographs import Camera, photographed, table
from rowanseed.formats.intake.read import read_intake
from rowanseed.formats.pattern_dxf import pattern_dxf
from rowanseed.formats.pattern_json import write_pattern
from rowanseed.formats.pattern_pdf import pattern_pdf
from rowanseed.formats.pattern_svg import pattern_svg
from rowanseed.formats.readings import flatten_here

BATCH = 50
MOST_SECONDS = 20.0
MEMORY = 3_000_000_000
WORDS = (
    b"-1e999",
    b"NaN",
    b"\xff\xfe",
    b"0" * 4000,
    b"<g>" * 300,
    b"inf",
    b"999999999999999",
    b"\x00",
    b"  0\n",
    b"M0 0Z",
    b"q " * 500,
)


def seeds() -> dict[str, bytes]:
    """The sample files that are taken apart."""
    shirt, legs = overshirt.pattern(), trousers.pattern()
    return {
        "svg": pattern_svg(legs).encode(),
        "svg2": pattern_svg(shirt, ("12", "14")).encode(),
        "dxf": pattern_dxf(legs, ("40",)).encode(),
        "pdf": pattern_pdf(legs, "a3", sizes=("40", "42")),
        "pdf2": pattern_pdf(shirt, "sheet", sizes=("12",)),
        "json": write_pattern(legs).encode(),
        **photographs(),
    }


def photographs() -> dict[str, bytes]:
    """A small photograph of a piece beside a sheet, as a camera keeps it and as a scanner does."""
    scene = table(
        (420.0, 320.0), {0: (20.0, 20.0, 0.0)}, [[(240.0, 40.0), (400.0, 40.0), (400.0, 280.0), (240.0, 280.0)]]
    )
    picture, _ = photographed(scene, Camera((1000, 800), 400, slant=5))
    return {f"photo{ending}": cv2.imencode(ending, picture)[1].tobytes() for ending in (".jpg", ".png")}


def damaged(data: bytes, rng: random.Random) -> bytes:
    """Return a file with some of it cut out, doubled, overwritten, or strange words put in."""
    out = bytearray(data)
    for _ in range(rng.choice((1, 1, 2, 4, 12))):
        if not out:
            break
        at = rng.randrange(len(out))
        match rng.randrange(7):
            case 0:
                del out[at : at + rng.choice((1, 8, 200, 5000))]
            case 1:
                out[at] = rng.randrange(256)
            case 2:
                out[at:at] = rng.choice(WORDS)
            case 3:
                part = out[at : at + rng.choice((20, 400, 4000))]
                out[at:at] = part * rng.choice((1, 3))
            case 4:
                del out[at:]
            case 5:
                digits = [k for k in range(at, min(len(out), at + 400)) if 48 <= out[k] <= 57]
                for k in digits[: rng.choice((1, 10, 100))]:
                    out[k] = 48 + rng.randrange(10)
            case _:
                other = rng.randrange(len(out))
                out[at : at + 60], out[other : other + 60] = out[other : other + 60], out[at : at + 60]
    return bytes(out)


def _batch(pipe: Connection, files: dict[str, bytes], start: int, count: int) -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    names = sorted(files)
    for seed in range(start, start + count):
        rng = random.Random(seed)
        kind = names[seed % len(names)]
        began = time.monotonic()
        try:
            data = damaged(files[kind], rng)
            if kind.startswith("photo"):
                flatten_here({"dpi": None, "square_mm": None}, [data], lambda text, share: None)
            else:
                read_intake(data)
            outcome = "read"
        except IntakeError as error:
            outcome = "refused" if error.text else "refused without words"
        except (RecursionError, MemoryError):
            outcome = "refused"  # the process apart says so in words
        except Exception as error:
            outcome = f"ERROR {type(error).__name__}"
        pipe.send((seed, kind, outcome, time.monotonic() - began))
    pipe.close()


def run(count: int, first: int = 0) -> Counter[str]:
    """Read so many damaged files; how often each outcome came."""
    files, totals, slowest = seeds(), Counter[str](), 0.0
    context = multiprocessing.get_context("fork")
    for start in range(first, first + count, BATCH):
        todo = list(range(start, min(start + BATCH, first + count)))
        while todo:
            ours, theirs = context.Pipe(duplex=False)
            child = context.Process(target=_batch, args=(theirs, files, todo[0], len(todo)))
            child.start()
            theirs.close()
            while todo:
                try:
                    if not ours.poll(MOST_SECONDS):
                        raise TimeoutError
                    seed, kind, outcome, took = ours.recv()
                except (EOFError, TimeoutError) as error:
                    what = "too slow" if isinstance(error, TimeoutError) else "process died"
                    totals[what] += 1
                    print(f"seed {todo[0]}: {what}")
                    todo.pop(0)
                    break
                todo.pop(0)
                totals[f"{kind}: {outcome}" if outcome.startswith("ERROR") else outcome] += 1
                slowest = max(slowest, took)
                if outcome.startswith("ERROR") or "without" in outcome:
                    print(f"seed {seed} ({kind}): {outcome}")
            child.kill()
            child.join()
    print(f"slowest {slowest:.1f} s")
    return totals


def main() -> None:
    """Print how often each outcome came."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=1000)
    parser.add_argument("--first", type=int, default=0)
    asked = parser.parse_args()
    for outcome, n in run(asked.count, asked.first).most_common():
        print(f"{n:6} {outcome}")


if __name__ == "__main__":
    main()
