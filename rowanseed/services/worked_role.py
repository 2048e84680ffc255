"""One cloth of a make, worked out: its pieces, what the lay is asked, the lay kept."""

from dataclasses import dataclass

from rowanseed.core.errors import Finding
from rowanseed.core.lay.model import LayRequest
from rowanseed.core.make.pieces import SizedPiece
from rowanseed.core.pattern.model import Role
from rowanseed.core.reckon.buying import Buy, length_to_buy
from rowanseed.store.cloths import StoredCloth
from rowanseed.store.makes import StoredLay
from rowanseed.store.settings import Settings


@dataclass(frozen=True)
class WorkedRole:
    """One cloth of a make: its role, the cloth chosen, its pieces, what the lay would be asked, and the lay kept."""

    role: Role
    cloth: StoredCloth | None
    pieces: list[SizedPiece]
    findings: list[Finding]
    request: LayRequest | None
    asks: str  # the request's fingerprint, empty without one
    kept: StoredLay | None

    @property
    def current(self) -> bool:
        """Whether the kept lay answers what would be asked now."""
        return self.kept is not None and self.request is not None and self.kept.asked == self.asks

    @property
    def why_not(self) -> str:
        """Why these pieces cannot be laid yet; empty where they can."""
        if self.request is not None:
            return ""
        if self.findings:
            return " ".join(f.text for f in self.findings)
        if self.cloth is None and self.pieces:
            return "Its cloth is still to be chosen."
        return "The size of every garment is still to be chosen." if not self.pieces else "There is nothing to lay."

    def to_buy(self, settings: Settings) -> Buy | None:
        """The length to buy for the kept lay, with shrinkage still to come and the loss in straightening."""
        if self.kept is None or self.cloth is None:
            return None
        cloth = self.cloth.cloth
        shrink = 0.0 if cloth.prepared else cloth.shrink_along
        return length_to_buy(self.kept.lay.length_mm, shrink, settings.straighten_mm, settings.step)
