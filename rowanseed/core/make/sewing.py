"""A garment's features in a make, and the facts that its steps' numbers are worked out from."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from rowanseed.core.cloth.fibres import care_of
from rowanseed.core.cloth.model import Cloth
from rowanseed.core.make.concessions import conceded_features
from rowanseed.core.make.pieces import SizedPiece
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import Pattern
from rowanseed.core.requirements import Requirements, allowances_said
from rowanseed.core.sew.model import ClothTraits
from rowanseed.core.sew.numbers import Facts


def features_of(pattern: Pattern, view: str, plan: MakePlan) -> dict[str, str]:
    """The garment's features: the view's, what its concessions bring with them, and what the user changed."""
    return {**pattern.view(view).features, **conceded_features(plan.conceded), **plan.features}


def sewing_facts(
    base: Facts,
    pieces: Sequence[SizedPiece],
    waist_mm: float | None,
    hem: str,
    schools: Mapping[str, str] | None = None,
    required: Requirements | None = None,
) -> Facts:
    """What the steps' numbers are worked out from: the first garment's shell, its waist, what it requires."""
    shell = [s for s in pieces if s.piece.role in ("self", "contrast")]
    shapes = {sized.piece.name: sized.shape for sized in shell}
    return replace(
        base,
        shapes=shapes,
        waist_mm=waist_mm,
        hem=hem,
        allowance_mm=required.allowance_mm if required else base.allowance_mm,
        schools=schools or {},
        required=required or base.required,
        allowances=allowances_said([(s.piece, s.shape) for s in shell], base.unit),
    )


DENSE = ("denim", "canvas", "drill", "twill", "duck")


def cloth_traits(cloth: Cloth) -> ClothTraits:
    """What of a cloth matters at the machine and the iron."""
    care = care_of(f"{cloth.fibre} {cloth.name}" if not cloth.fibre else cloth.fibre, cloth.care)
    words = f"{cloth.name} {cloth.fibre}".lower()
    return ClothTraits(
        cloth.weight, cloth.knit, cloth.piled, cloth.slippery, cloth.ravels, not cloth.opaque, cloth.loose, cloth.fur,
        any(part.fibre.name == "leather" for part in care.parts), any(word in words for word in DENSE), cloth.stretch,
        care.iron_words(),
    )  # fmt: skip
