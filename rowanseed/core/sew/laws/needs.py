"""The laws of construction, applied to the things of one garment: what has to be done before what, and why."""

from collections.abc import Sequence

from rowanseed.core.sew.laws.edges import basted_on, basted_seams, covered, prepared, whole_ends, zip_edges
from rowanseed.core.sew.laws.ends import at_the_end, fastened_last, marks, pressed_first
from rowanseed.core.sew.laws.flatness import finished_flat, flat, shaped_flat, stayed_first, tubes
from rowanseed.core.sew.laws.links import Laws
from rowanseed.core.sew.laws.lives import ages, asked_for, inside
from rowanseed.core.sew.laws.pieces import layers, made_before_use, made_whole, whole_pieces
from rowanseed.core.sew.laws.reduced import reduced
from rowanseed.core.sew.model import Need, Operation
from rowanseed.core.sew.units import Assembly


def needs_of(assembly: Assembly, operations: Sequence[Operation]) -> dict[str, tuple[Need, ...]]:
    """What each operation needs before it, by the laws; needs that follow from others are left out.

    Raises:
        FeatureError: the needs go round in a circle.
    """
    laws = Laws(assembly, operations)
    for rule in (
        asked_for,
        ages,
        prepared,
        basted_on,
        whole_ends,
        covered,
        inside,
        layers,
        made_whole,
        made_before_use,
        whole_pieces,
        stayed_first,
        shaped_flat,
        finished_flat,
        zip_edges,
        flat,
        tubes,
        fastened_last,
        pressed_first,
        basted_seams,
        marks,
        at_the_end,
    ):
        rule(laws)
    return reduced(operations, laws.links)
