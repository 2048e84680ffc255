"""The writer of finished cells: all are kept, in few transactions, and what it fails with is told."""

import sqlite3
from contextlib import closing

import pytest

from rowanseed.core.lay.engine import lay
from rowanseed.services import fill_tables
from rowanseed.services.fill_tables import CellWriter, open_cells
from rowanseed.store import db


@pytest.fixture(scope="module")
def laid():
    """A cell's lay, worked out once."""
    known = {}
    return lambda cell: known.setdefault("lay", lay(cell.asked))


def test_cells_that_come_back_together_are_kept_in_one_transaction(demo_path, laid, monkeypatch):
    cells = [cell for _, cell in zip(range(40), open_cells(demo_path))]
    before = len(list(open_cells(demo_path)))
    found, counts, written = laid(cells[0]), [], []
    write = db.write

    def counted(conn):
        written.append(conn)
        return write(conn)

    monkeypatch.setattr(fill_tables.db, "write", counted)
    with closing(sqlite3.connect(demo_path)) as other:
        other.execute("begin immediate")  # the first transaction has to wait: the others gather behind it
        writer = CellWriter(demo_path, counts.append)
        for cell in cells:
            writer.put(cell, found)
        other.execute("rollback")
    writer.close()
    assert sum(counts) == len(cells) and len(written) <= 4
    assert len(list(open_cells(demo_path))) == before - len(cells)


def test_what_the_writer_fails_with_is_told(demo_path, laid, tmp_path):
    cell = next(open_cells(demo_path))
    writer = CellWriter(tmp_path / "no" / "such.db", lambda kept: None)
    with pytest.raises(sqlite3.OperationalError):  # here, or where the writer is slower, on closing
        writer.put(cell, laid(cell))
        writer.close()
    with pytest.raises(sqlite3.OperationalError):
        writer.put(cell, laid(cell))
