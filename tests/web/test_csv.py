"""No cell of any table that goes out begins as a formula does, whatever things are called."""

import csv
import io
import re
import zipfile
from contextlib import closing
from pathlib import Path

from fastapi.routing import APIRoute

import rowanseed
from rowanseed.services import worked_pieces
from rowanseed.store import db
from rowanseed.web.app import API_ROUTERS, ROUTERS

# OWASP, CSV injection (from memory): a cell that begins so is read as a formula by spreadsheets.
STARTS = ("=", "+", "-", "@", "\t", "\r")
EVIL = '=HYPERLINK("x")'


def named_evilly(path):
    """Call everything in the household so that a spreadsheet would run it."""
    with closing(db.connect(path)) as conn, db.write(conn):
        for table in ("person", "make", "cloth", "supply", "shop", "pattern"):
            conn.execute(f"update {table} set name = ? || name", (EVIL,))
        for table in ("cloth", "supply", "shop"):
            conn.execute(
                f"update {table} set facts = json_set(facts, '$.name', '+' || name, '$.note', '-1+1', '$.fibre', '@sum')"
            )
        conn.execute("update pattern set envelope = json_set(envelope, '$.name', name)")
        conn.execute("update piece set facts = json_set(facts, '$.name', '=' || json_extract(facts, '$.name'))")
        conn.execute("update note set text = '@' || text")
    worked_pieces.forget()


def cells(text):
    return [cell for row in csv.reader(io.StringIO(text)) for cell in row]


def test_no_cell_of_any_table_that_goes_out_is_a_formula(client):
    named_evilly(client.app.state.database)
    tables = {}
    for url in (
        "/shopping/list.csv",
        "/patterns/1/yardage/table.csv?view=A",
    ):
        answer = client.get(url)
        if answer.status_code == 200:
            tables[url] = answer.text
    with zipfile.ZipFile(io.BytesIO(client.get("/settings/backups/everything.zip").content)) as folder:
        tables |= {name: folder.read(name).decode() for name in folder.namelist() if name.endswith(".csv")}
    assert len(tables) >= 7, sorted(tables)
    seen = 0
    for name, text in tables.items():
        for cell in cells(text):
            number = re.fullmatch(r"[+-]?\d+(\.\d+)?", cell)
            assert not cell.startswith(STARTS) or number, (name, cell)
            seen += cell.startswith("'")
    assert seen > 20  # the names did reach the tables, made harmless


def test_every_route_that_answers_a_table_is_known_to_this_test():
    routes = [r.path for m in (*ROUTERS, *API_ROUTERS) for r in m.router.routes if isinstance(r, APIRoute)]
    assert sorted(r for r in routes if "csv" in r) == ["/patterns/{pattern_id}/yardage/table.csv", "/shopping/list.csv"]


def test_there_is_one_writer_of_tables():
    root = Path(rowanseed.__file__).parent
    writing = [p.name for p in root.rglob("*.py") if re.search(r"^import csv|csv\.writer", p.read_text(), re.M)]
    assert writing == ["csv_table.py"]
