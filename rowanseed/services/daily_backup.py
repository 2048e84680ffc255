"""The day's backup, written while the server runs."""

import logging
import sqlite3
import threading
from contextlib import closing
from datetime import date
from pathlib import Path

from rowanseed.store import backups, db
from rowanseed.store.settings import settings

EVERY_S = 1800.0  # a machine that slept over midnight gets its backup within half an hour
LOG = logging.getLogger("rowanseed")


def keep_daily(database: Path, over: threading.Event) -> None:
    """Write each day's backup until the server ends; what fails is logged, kept for Settings, and tried again."""
    while not over.is_set():
        keep_today(database, date.today())
        over.wait(EVERY_S)


def keep_today(database: Path, today: date) -> str:
    """Write the day's backup where Settings says; what went wrong in words, empty where nothing did."""
    try:
        with closing(db.connect(database)) as conn:
            elsewhere = settings(conn).backup_folder
        backups.daily(database, today, Path(elsewhere) if elsewhere else None)
    except (backups.BackupError, sqlite3.Error) as error:
        LOG.warning("%s", error)
        return str(error)
    return ""
