"""A garment as a key, so that what follows from it is worked out once and not for each page that shows it."""

from rowanseed.core.sew.model import Library, SewnGarment


class GarmentKey:
    """A library and a garment: two garments that are said alike, by one library, are the same key."""

    def __init__(self, library: Library, garment: SewnGarment) -> None:
        self.library, self.garment, self.said = library, garment, repr(garment)

    def __hash__(self) -> int:
        return hash(self.said)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, GarmentKey) and self.library is other.library and self.said == other.said
