"""A pattern file read in a process of its own, with limits on its time and memory, its progress told, stopped when asked.

A reader may be led astray by a damaged or a made-up file; nothing of that reaches the server.
"""

import json
import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from typing import IO, Any

from pydantic import TypeAdapter

from rowanseed.core.errors import IntakeError
from rowanseed.core.intake.model import Intake, IntakeOptions

MOST_SECONDS = 60
MOST_MEMORY = 2_500_000_000
_INTAKE = TypeAdapter(Intake)
_OPTIONS = TypeAdapter(IntakeOptions)
Watch = Callable[[str, float], None]


def take_in(
    data: bytes,
    options: IntakeOptions,
    tell: Watch = lambda text, share: None,
    stop: Callable[[], bool] = lambda: False,
    most_seconds: float = MOST_SECONDS,
) -> Intake:
    """Return the pieces that a file seems to hold.

    Args:
        tell: is told in words what is being done, and the share that is done.
        stop: whether the user wants no more of it.
    Raises:
        IntakeError: it cannot be read, takes too long or too much memory, or was stopped.
    """
    head = json.dumps(_OPTIONS.dump_python(options, mode="json")).encode()
    command = [sys.executable, "-m", "rowanseed.formats.intake.isolated"]
    process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE)
    assert process.stdin and process.stdout and process.stderr
    feeding = threading.Thread(target=_feed, args=(process.stdin, head + b"\n" + data), daemon=True)
    out: list[bytes] = []
    reading = threading.Thread(target=lambda: out.append(process.stdout.read()), daemon=True)  # type: ignore[union-attr]
    hearing = threading.Thread(target=_hear, args=(process.stderr, tell), daemon=True)
    for thread in (feeding, reading, hearing):
        thread.start()
    ends = time.monotonic() + most_seconds
    while process.poll() is None:
        if stop() or time.monotonic() > ends:
            process.kill()
            process.wait()
            if stop():
                raise IntakeError("Reading was stopped.", "file")
            raise IntakeError(
                f"This file takes longer than {most_seconds:.0f} s to read. Send fewer pages at a time.", "file"
            )
        time.sleep(0.02)
    reading.join(10)
    hearing.join(1)
    return _answer(process.returncode, out[0] if out else b"")


def _feed(pipe: IO[bytes], data: bytes) -> None:
    try:
        pipe.write(data)
        pipe.close()
    except OSError:
        pass  # it ended before it had read everything: its answer says why


def _hear(pipe: IO[bytes], tell: Watch) -> None:
    for line in pipe:
        text, _, share = line.decode("utf-8", "replace").rpartition("\t")
        if text.startswith(">"):
            tell(text[1:], float(share))


def _answer(code: int, out: bytes) -> Intake:
    if code == 0 and out:
        return _INTAKE.validate_json(out)
    if code == 2:
        problem: dict[str, Any] = json.loads(out)
        raise IntakeError(problem["text"], problem["field"])
    raise IntakeError(
        "This file is damaged, or larger inside than a pattern can be. Save it anew, and send that.", "file"
    )


def _main() -> int:
    """Read options and a file from standard input; write the pieces, or (2) the reason, to standard output."""
    import resource

    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (MOST_SECONDS, MOST_SECONDS))
    os.environ.setdefault("OMP_NUM_THREADS", "1")
    from rowanseed.formats.intake.read import read_intake

    # What libraries print must not stand between the answer's lines.
    answer = os.fdopen(os.dup(1), "wb")
    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)

    def tell(text: str, share: float) -> None:
        sys.stderr.write(f">{text}\t{share:.3f}\n")
        sys.stderr.flush()

    options = _OPTIONS.validate_json(sys.stdin.buffer.readline())
    try:
        result = read_intake(sys.stdin.buffer.read(), options, tell)
    except IntakeError as error:
        answer.write(json.dumps({"text": error.text, "field": error.field}).encode())
        return 2
    except (RecursionError, MemoryError):
        answer.write(
            json.dumps({"text": "This file is larger inside than a pattern can be.", "field": "file"}).encode()
        )
        return 2
    finally:
        answer.flush()
    answer.write(_INTAKE.dump_json(result))
    answer.close()
    return 0


if __name__ == "__main__":
    sys.exit(_main())
