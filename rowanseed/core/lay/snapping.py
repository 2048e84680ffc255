"""Where a shape may stand in a layout whose print must match, and lots that are drawn: small inner loops of the search."""

import numpy as np

from rowanseed.core.lay.compiled import compiled


@compiled()
def random_share(rng):
    """A number in [0, 1) from an xorshift generator; rng holds its one word of state."""
    v = rng[0]
    v ^= (v << np.uint64(13)) & np.uint64(0xFFFFFFFFFFFFFFFF)
    v ^= v >> np.uint64(7)
    v ^= (v << np.uint64(17)) & np.uint64(0xFFFFFFFFFFFFFFFF)
    rng[0] = v
    return (v >> np.uint64(11)) * (1.0 / 9007199254740992.0)


@compiled()
def _phase(p, r, ph):
    """Where shape p's positions on row r are counted from."""
    if ph[p, 3] > 0.0 and round((r - ph[p, 2]) / ph[p, 3]) % 2 != 0:
        return ph[p, 0] + ph[p, 1] / 2
    return ph[p, 0]


@compiled()
def snap_up(at, p, r, ph):
    """The first x not below `at` where shape p may stand on row r."""
    period = ph[p, 1]
    if period <= 0.0:
        return at
    phase = _phase(p, r, ph)
    return phase + np.ceil((at - phase) / period - 1e-9) * period


@compiled()
def snap_down(at, p, r, ph):
    """The last x not above `at` where shape p may stand on row r."""
    period = ph[p, 1]
    if period <= 0.0:
        return at
    phase = _phase(p, r, ph)
    return phase + np.floor((at - phase) / period + 1e-9) * period
