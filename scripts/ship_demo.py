"""Work out what the demo ships with and write it beside the code: the overshirt as drafted, and a lay for each of its requests.

python -m scripts.ship_demo
"""

import tempfile
from contextlib import closing
from datetime import date
from pathlib import Path

from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import Lay
from rowanseed.demo import load, overshirt, shipped
from rowanseed.store import db

FOLDER = Path(shipped.__file__).parent


def main() -> None:
    """Write both files."""
    (FOLDER / shipped.OVERSHIRT).write_bytes(shipped.PATTERN_OF.dump_json(overshirt.drafted()))
    overshirt.pattern.cache_clear()
    made: dict[str, Lay] = {}

    def laid(request):  # the demo's own way of laying, remembered
        found = lay(request)
        made[shipped.key_of(request)] = found
        return found

    load.laid = laid
    with tempfile.TemporaryDirectory() as folder, closing(db.connect(Path(folder) / "demo.db")) as conn:
        db.migrate(conn)
        load.load_demo(conn, date.today())
    (FOLDER / shipped.LAYS).write_bytes(shipped.LAYS_OF.dump_json(made))
    print(f"{len(made)} lays, {sum(p.stat().st_size for p in FOLDER.glob('*.json')) / 1e6:.1f} MB")


if __name__ == "__main__":
    main()
