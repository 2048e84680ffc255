"""Server time of an alteration: 15 pieces in 12 sizes altered, carried and walked, and drawn before and after in one size.

Run `python -m bench.alter`. Every kind is made in turn on an invented pattern of fifteen pieces; the median is what the Fit page
adds when one alteration is typed in.
"""

import statistics
import time
from dataclasses import replace

from bench.history import record
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.make.pieces import altered_pattern
from rowanseed.core.pattern.model import Pattern
from rowanseed.demo import overshirt
from rowanseed.formats.piece_svg import before_after_svg

RUNS = 5
STACKS = {
    "length": Alteration("length", "3", 20.0),
    "hem": Alteration("hem", "3", 20.0),
    "side": Alteration("side", "3", 10.0),
    "taper": Alteration("taper", "3", 15.0, 420.0),
    "shoulder": Alteration("shoulder", "3", 8.0),
    "bust": Alteration("bust", "3", 19.0),
    "bust-dartless": Alteration("bust-dartless", "3", 19.0),
    "upper-arm": Alteration("upper-arm", "4", 20.0),
}


def fifteen_by_twelve() -> Pattern:
    """The demo overshirt with four more pieces cut like its own, in twelve sizes."""
    base = overshirt.pattern()
    sizes = [f"{n}" for n in range(12)]
    names = list(base.size_names())
    more = [replace(base.pieces[k], number=str(20 + k), same_as=base.pieces[k].number) for k in range(4)]
    pieces = tuple(
        replace(p, shapes={s: p.shapes[names[n % len(names)]] for n, s in enumerate(sizes)})
        for p in (*base.pieces, *more)
    )
    assert len(pieces) == 15
    return replace(base, pieces=pieces)


def main() -> None:
    """Print the median of each kind and of all."""
    pattern = fifteen_by_twelve()
    sizes = [f"{n}" for n in range(12)]
    medians = []
    for name, alteration in STACKS.items():
        times = []
        for _ in range(RUNS):
            began = time.perf_counter()
            altered, done = altered_pattern(pattern, sizes, [alteration])
            for old, new in zip(pattern.pieces, altered.pieces, strict=True):
                if old.shapes["3"] != new.shapes["3"]:
                    before_after_svg(old.shapes["3"], new.shapes["3"], old.name)
            times.append(1000 * (time.perf_counter() - began))
            assert not any(f.level == "stop" for d in done.values() for f in d.findings)
        medians.append(statistics.median(times))
        print(f"{name:15}{medians[-1]:8.0f} ms, 15 pieces x 12 sizes")
    print(f"{'median':15}{statistics.median(medians):8.0f} ms (aim: under 100)")
    record("alter", {"an alteration, median": statistics.median(medians) / 1000})


if __name__ == "__main__":
    main()
