"""The console command: serve, demo, backup, restore, check, samples, warm, version."""

import argparse
import os
import socket
import sys
from pathlib import Path

from rowanseed import __version__

LOOPBACK = ("127.0.0.1", "localhost", "::1")
OWN_DATA, DEMO_DATA = Path("data/rowanseed.db"), Path("data/demo.db")


def main(argv: list[str] | None = None) -> int:
    """Run a subcommand; the exit status."""
    parser = argparse.ArgumentParser(
        prog="rowanseed", description="From an envelope and a length of cloth to a garment."
    )
    commands = parser.add_subparsers(dest="command", required=True)
    for name, about in (("serve", "serve your own data"), ("demo", "serve the invented household")):
        command = commands.add_parser(name, help=about)
        command.add_argument("--port", type=int, default=int(os.environ.get("ROWANSEED_PORT", "8765")))
        command.add_argument("--host", default="127.0.0.1")
        command.add_argument("--database", type=Path, default=None)
    commands.add_parser("warm", help="compile the kernels that need compiling")
    samples = commands.add_parser("samples", help="write sample pattern files and photographs into a folder")
    samples.add_argument("folder", type=Path)
    for name, about in (
        ("backup", "write a backup of the household, database and pictures, to a new file"),
        ("restore", "put a backup in the place of the household; what was there is kept aside"),
    ):
        command = commands.add_parser(name, help=about)
        command.add_argument("file", type=Path)
        command.add_argument("--database", type=Path, default=None)
    check = commands.add_parser("check", help="check the household's file, its links and its pictures; or a backup")
    check.add_argument("file", type=Path, nargs="?")
    check.add_argument("--database", type=Path, default=None)
    commands.add_parser("version", help="print the version")
    asked = parser.parse_args(argv)
    if asked.command == "version":
        print(__version__)
        return 0
    if asked.command == "warm":
        from rowanseed.jobs.worker import warm_up

        warm_up()
        return 0
    if asked.command == "samples":
        from rowanseed.demo.samples import write_samples

        for path in write_samples(asked.folder):
            print(path)
        return 0
    if asked.command in ("backup", "restore", "check"):
        return keep(asked.command, asked.file, asked.database or own_data())
    return serve(asked.command == "demo", asked.host, asked.port, asked.database)


def own_data() -> Path:
    """Where the household is kept: `ROWANSEED_DB`, else in the folder `data`."""
    return Path(os.environ["ROWANSEED_DB"]) if "ROWANSEED_DB" in os.environ else OWN_DATA


def keep(command: str, file: Path | None, database: Path) -> int:
    """Back a household up, restore it or check it; 0, or 1 with what is wrong on standard error."""
    from rowanseed.store import backups
    from rowanseed.store.opening import HouseholdFileError, version_of

    try:
        if command == "restore" and file is not None:
            contents, kept = backups.restore(file, database)
            print(f"Restored. {contents.words()}")
            if kept is not None:
                print(f"What was there is kept in {kept}; “rowanseed restore {kept}” brings it back.")
        elif command == "backup" and file is not None:
            if version_of(database) == 0:
                raise HouseholdFileError(f"There is no household at “{database}” to back up.")
            print(f"{file}: {backups.backup_to(database, file).words()}")
        elif file is not None:
            print(f"{file} is sound. {backups.contents_of(file).words()}")
        else:
            wrong = backups.check(database)
            for text in wrong:
                print(text, file=sys.stderr)
            if wrong:
                return 1
            print(f"{database} is sound: version {version_of(database)} of the data, all its pictures are there.")
    except (backups.BackupError, HouseholdFileError) as error:
        print(error, file=sys.stderr)
        return 1
    return 0


def serve(demo: bool, host: str, port: int, database: Path | None) -> int:
    """Serve a database on this machine; the exit status."""
    if host not in LOOPBACK:
        print(
            "Rowanseed answers on this machine only: a passphrase for other addresses does not exist yet.",
            file=sys.stderr,
        )
        return 2
    import uvicorn

    from rowanseed.store.backups import BackupError
    from rowanseed.store.opening import HouseholdFileError
    from rowanseed.web import create_app

    path = database or (DEMO_DATA if demo else own_data())
    with socket.socket() as probe:
        if probe.connect_ex((host if host != "localhost" else "127.0.0.1", port)) == 0:
            print(f"Port {port} is taken. Choose another one with --port.", file=sys.stderr)
            return 1
    try:
        if demo:
            from rowanseed.demo.load import load_demo_if_new

            load_demo_if_new(path)
        app = create_app(path, workers=max(1, os.cpu_count() or 1), daily=not demo)
    except (HouseholdFileError, BackupError) as error:
        print(error, file=sys.stderr)
        return 3
    print(f"Rowanseed: http://{host}:{port}/   (end it with Ctrl+C)", flush=True)
    uvicorn.run(
        app,
        host=host,
        port=port,
        log_level="warning",
        access_log=False,
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
