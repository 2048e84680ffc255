"""What a make's cloths take while its pattern has no pieces: by its envelope, else by the garment's usual pieces."""

from rowanseed.core.errors import RowanseedError
from rowanseed.core.pattern.usual import usual_garment
from rowanseed.services.first_answer import ClothNeed, FirstAsk, cloth_needs
from rowanseed.services.long_work import LongWork
from rowanseed.services.usual_pieces import usual_pieces
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import cloths
from rowanseed.store.cloths import StoredCloth


def cloth_in_hand(view: WorkedMake) -> StoredCloth | None:
    """Return the main cloth that was chosen for a make."""
    cloth_id = view.make.cloths.get("self")
    return cloths.cloth(view.conn, cloth_id) if cloth_id is not None else None


def needs_without_pieces(view: WorkedMake, work: LongWork, store: str) -> list[tuple[str, ClothNeed]]:
    """Return what every garment of a make takes, each with its size; nothing where the pattern has pieces or sizes are open."""
    if not view.by_usual_pieces or len(view.sizes) < len(view.make.garments):
        return []
    rows = {s.size: s for s in view.pattern.sizes}
    chosen = cloth_in_hand(view)
    found: list[tuple[str, ClothNeed]] = []
    for garment in view.make.garments:
        size = garment.size or ""
        if size not in rows:
            continue
        person = view.people.get(garment.person_id) if garment.person_id is not None else None
        body = person.latest.values if person is not None and person.latest else {}
        usual = usual_garment(view.pattern, view.make.view)
        cloth = chosen.cloth if chosen is not None else None
        ask = FirstAsk(
            usual, body, view.pattern.sizes, "", cloth.width if cloth else None, None, cloth.prepared if cloth else False,
            cloth is not None and (cloth.nap == "one-way" or cloth.print.one_way), view.pattern.printed, view.pattern.notions,
        )  # fmt: skip
        try:
            pieces = usual_pieces(usual, rows[size], body, view.settings)
        except RowanseedError:
            continue
        place = f"{store}:{view.make.id}:usual:{garment.id}"
        found += [(size, need) for need in cloth_needs(ask, pieces, size, view.settings, work, place)]
    return found
