"""The console command: serve, demo, passphrase, backup, restore, check, export, import, samples, tables, warm, version."""

import argparse
import gc
import os
import signal
import sys
import tempfile
import threading
from contextlib import closing
from pathlib import Path
from typing import TYPE_CHECKING

from rowanseed import __version__

if TYPE_CHECKING:
    from rowanseed.web.answers import Answers

OWN_DATA, DEMO_DATA = Path("data/rowanseed.db"), Path("data/demo.db")


def main(argv: list[str] | None = None) -> int:
    """Run a subcommand; the exit status."""
    parser = argparse.ArgumentParser(
        prog="rowanseed", description="From an envelope and a length of cloth to a garment."
    )
    parser.add_argument("--version", action="version", version=__version__)
    commands = parser.add_subparsers(dest="command", required=True)
    for name, about in (("serve", "serve your own data"), ("demo", "serve the invented household")):
        command = commands.add_parser(name, help=about)
        command.add_argument("--port", type=int, default=int(os.environ.get("ROWANSEED_PORT", "8765")))
        command.add_argument(
            "--host", default="127.0.0.1", help="0.0.0.0 for every address of this machine; needs a passphrase"
        )
        command.add_argument("--tls", action="store_true", help="encrypt, with a certificate of the household's own")
        command.add_argument("--certificate", type=Path, default=None, help="a certificate's file (PEM), with --key")
        command.add_argument("--key", type=Path, default=None)
        command.add_argument("--database", type=Path, default=None)
    commands.add_parser("warm", help="compile the kernels that need compiling")
    samples = commands.add_parser("samples", help="write sample pattern files and photographs into a folder")
    samples.add_argument("folder", type=Path)
    for name, about in (
        ("backup", "write a backup of the household, database and pictures, to a new file"),
        ("restore", "put a backup in the place of the household; what was there is kept aside"),
        ("export", "write everything in open formats (JSON, CSV, SVG, pictures) to a new zip file"),
        ("import", "take such a zip file in; what is there already is left as it is"),
    ):
        command = commands.add_parser(name, help=about)
        command.add_argument("file", type=Path)
        command.add_argument("--database", type=Path, default=None)
        if name == "backup":
            command.add_argument("--encrypt", action="store_true", help="with a passphrase, read from standard input")
        if name == "restore":
            said = "of a backup that is not sound, without what cannot be read"
            command.add_argument("--what-can-be-read", action="store_true", dest="leaving_out", help=said)
        if name in ("export", "import"):
            said = "take what differs as it stands in the folder" if name == "import" else argparse.SUPPRESS
            command.add_argument("--there", action="store_true", help=said)
            said = "take it in without the pictures that it lacks" if name == "import" else argparse.SUPPRESS
            command.add_argument("--without-pictures", action="store_true", help=said)
    check = commands.add_parser("check", help="check the household's file, its links and its pictures; or a backup")
    check.add_argument("file", type=Path, nargs="?")
    check.add_argument("--database", type=Path, default=None)
    passphrase = commands.add_parser(
        "passphrase", help="set the passphrase for the home network, read from standard input"
    )
    passphrase.add_argument("--database", type=Path, default=None)
    tables = commands.add_parser("tables", help="work out the yardage tables of all patterns; goes on where it stopped")
    tables.add_argument("--all", action="store_true", required=True, help="every pattern, view and cloth")
    tables.add_argument("--check", action="store_true", help="a matched check too")
    tables.add_argument("--workers", type=int, default=os.cpu_count() or 1, help="worker processes on this machine")
    tables.add_argument("--database", type=Path, default=None)
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
    if asked.command in ("export", "import"):
        return exchange(asked.command, asked.file, asked.database or own_data(), asked.there, asked.without_pictures)
    if asked.command in ("backup", "restore", "check"):
        options = {name: getattr(asked, name, False) for name in ("leaving_out", "encrypt")}
        return keep(asked.command, asked.file, asked.database or own_data(), **options)
    if asked.command == "tables":
        return fill_tables(asked.database or own_data(), asked.workers, asked.check)
    if asked.command == "passphrase":
        return set_passphrase(asked.database or own_data())
    if (asked.certificate is None) != (asked.key is None):
        print("Name both --certificate and --key.", file=sys.stderr)
        return 2
    path = asked.database or (DEMO_DATA if asked.command == "demo" else own_data())
    return serve(asked.command == "demo", asked.host, asked.port, path, asked.tls, asked.certificate, asked.key)


def own_data() -> Path:
    """Where the household is kept: `ROWANSEED_DB`, else in the folder `data`."""
    return Path(os.environ["ROWANSEED_DB"]) if "ROWANSEED_DB" in os.environ else OWN_DATA


def fill_tables(database: Path, workers: int, check: bool) -> int:
    """Work out every yardage table's open cells, with a bar of how far it is; 0, or 1 where it could not be begun."""
    from tqdm import tqdm

    from rowanseed.jobs.executor import NoScheduler, executor
    from rowanseed.services.fill_tables import Filled, fill, open_cells
    from rowanseed.store.backups import before_migration
    from rowanseed.store.opening import HouseholdFileError, open_household

    try:
        open_household(database, before_migration)
        pool = executor(max(1, workers))
    except (HouseholdFileError, NoScheduler) as error:
        print(error, file=sys.stderr)
        return 1
    asked_to_stop = threading.Event()
    signal.signal(signal.SIGINT, lambda number, frame: asked_to_stop.set())
    try:
        total = sum(1 for _ in open_cells(database, check))
        with tqdm(total=total, unit=" cells", disable=not total) as bar:

            def told(filled: Filled) -> None:
                bar.update(filled.done + filled.failed - bar.n)

            filled = fill(database, pool, told, asked_to_stop.is_set, check)
    finally:
        pool.close()
    left = total - filled.done - filled.failed
    print(f"{filled.done} figures worked out, {filled.failed} could not be, {left} left for the next time.")
    return 0


def keep(command: str, file: Path | None, database: Path, leaving_out: bool = False, encrypt: bool = False) -> int:
    """Back a household up, restore it or check it; 0, or 1 with what is wrong on standard error."""
    from rowanseed.services import restoring
    from rowanseed.store import backups
    from rowanseed.store.encrypted import is_encrypted
    from rowanseed.store.opening import HouseholdFileError, version_of

    room = tempfile.TemporaryDirectory()
    try:
        if file is not None and command in ("restore", "check") and is_encrypted(file):
            opened = Path(room.name) / file.name.removesuffix(".age")
            backups.opened_backup(file, opened, _passphrase())
            file = opened
        if command == "restore" and file is not None:
            contents, kept = restoring.restore(file, database, leaving_out)
            print(f"Restored. {contents.words()}")
            for text in contents.faults:
                print(text, file=sys.stderr)
            if kept is not None:
                print(f"What was there is kept in {kept}; “rowanseed restore {kept}” brings it back.")
        elif command == "backup" and file is not None:
            if version_of(database) == 0:
                raise HouseholdFileError(f"There is no household at “{database}” to back up.")
            written = (
                backups.encrypted_backup_to(database, file, _passphrase())
                if encrypt
                else backups.backup_to(database, file)
            )
            print(f"{file}{', encrypted' if encrypt else ''}: {written.words()}")
        elif file is not None:
            print(f"{file} is sound. {restoring.sound_contents_of(file).words()}")
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
    finally:
        room.cleanup()
    return 0


def _passphrase() -> str:
    """A passphrase from standard input, without an echo where it is typed."""
    from getpass import getpass

    return getpass("Its passphrase: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\r\n")


def exchange(command: str, file: Path, database: Path, there: bool = False, without: bool = False) -> int:
    """Write everything in open formats, or take it in; 0, or 1 with what is wrong on standard error."""
    from rowanseed.services.exchange import taking_in
    from rowanseed.services.exchange.give_out import give_out
    from rowanseed.store import db
    from rowanseed.store.backups import before_migration
    from rowanseed.store.opening import HouseholdFileError, open_household

    try:
        open_household(database, before_migration)
        with closing(db.connect(database)) as conn, file.open("xb" if command == "export" else "rb") as stream:
            if command == "export":
                give_out(conn, database, stream)
                print(f"{file}: everything, in open formats.")
                return 0
            brought = taking_in.brought_folder(database, stream)
            try:
                if brought.missing and not without:
                    raise taking_in.ExchangeError(
                        f"{brought.missing[0]} Nothing was taken in; with --without-pictures it is taken in without."
                    )
                left = [] if there else [d.title for d in taking_in.comparison(conn, brought).differs]
                taken = taking_in.take_in(conn, database, brought, None if there else ())
            finally:
                taking_in.throw_away(brought)
            print(f"New: {sum(taken.new.values())}. Came back: {len(taken.back)}. There already: {len(taken.known)}.")
            for title in taken.changed:
                print(f"Now as it is in the folder: {title}.")
            for title in left:
                print(f"Other here than in the folder, left as it is here: {title}.")
    except (taking_in.ExchangeError, HouseholdFileError, OSError) as error:
        print(error, file=sys.stderr)
        return 1
    return 0


def set_passphrase(database: Path) -> int:
    """Read a passphrase and set it; without an echo where it is typed."""
    from getpass import getpass

    from rowanseed.store import access, db
    from rowanseed.store.opening import HouseholdFileError, open_household

    typed = getpass("Passphrase: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\r\n")
    if sys.stdin.isatty() and typed != getpass("The same again: "):
        print("The two are not the same. Nothing was changed.", file=sys.stderr)
        return 1
    try:
        open_household(database)
        with closing(db.connect(database)) as conn, db.write(conn):
            access.set_passphrase(conn, typed)
    except (access.PassphraseError, HouseholdFileError) as error:
        print(error, file=sys.stderr)
        return 1
    print("The passphrase is set. Every device that was in must show it.")
    return 0


def may_be_reached(host: str, path: Path) -> bool:
    """Whether a household may be served on a host: beyond this machine only with a passphrase, asked for where one can type."""
    from rowanseed.starting import has_passphrase, is_here

    if is_here(host) or has_passphrase(path):
        return True
    if sys.stdin.isatty():
        print("Beyond this machine a passphrase is asked for. Set it now.")
        return set_passphrase(path) == 0
    print(
        f"Rowanseed answers beyond this machine only with a passphrase. Set it first: rowanseed passphrase --database {path}",
        file=sys.stderr,
    )
    return False


def serve(
    demo: bool, host: str, port: int, path: Path, tls: bool = False, certificate: Path | None = None, key: Path | None = None
) -> int:  # fmt: skip
    """Serve a database; the exit status: 1 the port is taken, 2 no passphrase, 3 the file cannot be opened."""
    from rowanseed import starting
    from rowanseed.store.opening import HouseholdFileError, version_of

    try:  # before anything that is not needed to say no
        host = starting.host_of(host)
        version_of(path)
        if not demo and not may_be_reached(host, path):
            return 2
        starting.refuse_taken(host, port)
    except (HouseholdFileError, starting.CannotStart) as error:
        print(error, file=sys.stderr)
        return getattr(error, "status", 3)
    gc.disable()  # nothing that is imported is garbage; the application switches it on again once it has started
    import uvicorn

    from rowanseed.store.backups import BackupError
    from rowanseed.web import create_app
    from rowanseed.web.answers import answers_at
    from rowanseed.web.certificate import own_certificate

    try:
        if demo:
            from rowanseed.demo.load import load_demo_if_new

            load_demo_if_new(path)
            if not may_be_reached(host, path):
                return 2
        answers = answers_at(host, port, tls or certificate is not None)
        warm = os.environ.get("ROWANSEED_WARM", "yes") != "no"  # or its workers start at the first lay
        app = create_app(path, workers=max(1, os.cpu_count() or 1), warm=warm, daily=not demo, answers=answers)
    except (HouseholdFileError, BackupError) as error:
        print(error, file=sys.stderr)
        return 3
    if tls and certificate is None:
        own = own_certificate(path.parent / "tls", answers.names)
        certificate, key, app.state.authority = own.chain, own.key, own
        print(f"Its certificate is its own; compare on the tablet: SHA-256 {own.fingerprint}", flush=True)
    _greet(answers)
    uvicorn.run(
        app, host=host, port=port, log_level="warning", access_log=False, proxy_headers=False, server_header=False,
        ssl_certfile=certificate, ssl_keyfile=key,
    )  # fmt: skip
    return 0


def _greet(answers: "Answers") -> None:
    """Say where it answers; on the home network with a QR code for the tablet's camera."""
    for url in answers.shown or ("nowhere on the network yet: is this machine connected?",):
        print(f"Rowanseed: {url}   (end it with Ctrl+C)", flush=True)
    if answers.locked and answers.shown:
        import segno

        segno.make(answers.shown[0], error="l").terminal(compact=True)
        sys.stdout.flush()


if __name__ == "__main__":
    sys.exit(main())
