"""The console command: serve, demo, samples, warm, version."""

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
    return serve(asked.command == "demo", asked.host, asked.port, asked.database)


def serve(demo: bool, host: str, port: int, database: Path | None) -> int:
    """Serve a database on this machine; the exit status."""
    if host not in LOOPBACK:
        print(
            "Rowanseed answers on this machine only: a passphrase for other addresses does not exist yet.",
            file=sys.stderr,
        )
        return 2
    import uvicorn

    from rowanseed.web import create_app

    own = Path(os.environ["ROWANSEED_DB"]) if "ROWANSEED_DB" in os.environ else OWN_DATA
    path = database or (DEMO_DATA if demo else own)
    with socket.socket() as probe:
        if probe.connect_ex((host if host != "localhost" else "127.0.0.1", port)) == 0:
            print(f"Port {port} is taken. Choose another one with --port.", file=sys.stderr)
            return 1
    if demo:
        from rowanseed.demo.load import load_demo_if_new

        load_demo_if_new(path)
    print(f"Rowanseed: http://{host}:{port}/   (end it with Ctrl+C)", flush=True)
    uvicorn.run(
        create_app(path, workers=max(1, os.cpu_count() or 1)),
        host=host,
        port=port,
        log_level="warning",
        access_log=False,
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
