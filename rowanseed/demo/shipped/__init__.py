"""What the demo would take half a minute to work out, worked out beforehand: its overshirt as drafted, and its lays.

`python -m scripts.ship_demo` writes both. A lay is taken only where it was made for the very pieces and cloth, and after the
independent check has found nothing; else the demo lays anew.
"""

from functools import cache
from importlib.resources import files

from pydantic import TypeAdapter

from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import Lay, LayRequest
from rowanseed.core.make.lay_requests import fingerprint
from rowanseed.core.pattern.model import Pattern

LAYS, OVERSHIRT = "lays.json", "overshirt.json"
LAYS_OF = TypeAdapter(dict[str, Lay])
PATTERN_OF = TypeAdapter(Pattern)


def key_of(request: LayRequest) -> str:
    """What a lay of the demo is known by: the pieces and the cloth, and how it was asked to be spread."""
    return f"{fingerprint(request)} {request.spread}"


@cache
def shipped_lays() -> dict[str, Lay]:
    """Every lay that is shipped, by its key."""
    return LAYS_OF.validate_json((files(__package__) / LAYS).read_bytes())


def shipped_overshirt() -> Pattern:
    """The overshirt as it was drafted."""
    return PATTERN_OF.validate_json((files(__package__) / OVERSHIRT).read_bytes())


def laid(request: LayRequest) -> Lay:
    """The shipped lay of a request where there is one and it is sound, else one that is laid now."""
    known = shipped_lays().get(key_of(request))
    if known is not None and not any(f.level == "stop" for f in check_lay(request, known)):
        return known
    return lay(request)
