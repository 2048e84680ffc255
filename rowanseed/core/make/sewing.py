"""A garment's features in a make, and the facts that its steps' numbers are worked out from."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from rowanseed.core.make.concessions import conceded_features
from rowanseed.core.make.pieces import SizedPiece
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import Pattern
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
) -> Facts:
    """What the steps' numbers are worked out from: the first garment's pieces and its waist."""
    shapes = {sized.piece.name: sized.shape for sized in pieces}
    allowance = next((s.piece.allowance_mm for s in pieces), base.allowance_mm)
    return replace(base, shapes=shapes, waist_mm=waist_mm, hem=hem, allowance_mm=allowance, schools=schools or {})
