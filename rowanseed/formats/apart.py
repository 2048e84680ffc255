"""What a stranger's file is read by: a process of its own, with limits on time and memory, progress told, stopped when asked.

A reader may be led astray by a damaged or a made-up file; nothing of that reaches the server.
"""

import json
import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Sequence
from typing import IO, Any

from rowanseed.core.errors import IntakeError, RowanseedError

MOST_SECONDS = 60  # of the processor's time
PATIENCE = 5  # times as long by the clock: on a busy machine a reading gets a share of the processor only
MOST_MEMORY = 3_000_000_000
# So many at a time: a household's server has few processors, and each reading may take much memory.
ROOM = threading.BoundedSemaphore(max(2, os.cpu_count() or 1))
Tell = Callable[[str, float], None]
Reading = Callable[[dict[str, Any], list[bytes], Tell], bytes]


def run_apart(
    reading: str,
    head: dict[str, Any],
    files: Sequence[bytes],
    tell: Tell = lambda text, share: None,
    stop: Callable[[], bool] = lambda: False,
    most_seconds: float = MOST_SECONDS,
) -> bytes:
    """Return what a reading (its name in `rowanseed.formats.readings`) answers to a head and files.

    Args:
        tell: is told in words what is being done, and the share that is done.
        stop: whether the user wants no more of it.
    Raises:
        IntakeError: a file cannot be read, takes too long or too much memory, or was stopped.
    """
    with ROOM:
        return _run(reading, head, files, tell, stop, most_seconds)


def _run(
    reading: str,
    head: dict[str, Any],
    files: Sequence[bytes],
    tell: Tell,
    stop: Callable[[], bool],
    most_seconds: float,
) -> bytes:
    first = json.dumps({"head": head, "sizes": [len(f) for f in files]}).encode() + b"\n"
    command = [sys.executable, "-m", "rowanseed.formats.apart", reading, str(max(1, round(most_seconds)))]
    process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE)
    out: list[bytes] = []
    threads = [
        threading.Thread(target=_feed, args=(process.stdin, [first, *files]), daemon=True),
        threading.Thread(target=_collect, args=(process.stdout, out), daemon=True),
        threading.Thread(target=_hear, args=(process.stderr, tell), daemon=True),
    ]
    for thread in threads:
        thread.start()
    ends = time.monotonic() + PATIENCE * most_seconds
    while process.poll() is None:
        stopped = stop()
        if stopped or time.monotonic() > ends:
            process.kill()
            process.wait()
            if stopped:
                raise IntakeError("Reading was stopped.", "file")
            raise _too_long(most_seconds)
        time.sleep(0.02)
    for thread in threads[1:]:
        thread.join(10)
    if process.returncode == -signal.SIGXCPU:
        raise _too_long(most_seconds)
    return _answer(process.returncode, b"".join(out))


def _too_long(seconds: float) -> IntakeError:
    return IntakeError(f"This takes longer than {seconds:.0f} s to read. Send fewer pages at a time.", "file")


def _feed(pipe: IO[bytes], parts: Sequence[bytes]) -> None:
    try:
        for part in parts:
            pipe.write(part)
        pipe.close()
    except OSError:
        pass  # it ended before it had read everything: its answer says why


def _collect(pipe: IO[bytes], out: list[bytes]) -> None:
    out.append(pipe.read())


def _hear(pipe: IO[bytes], tell: Tell) -> None:
    for line in pipe:
        text, _, share = line.decode("utf-8", "replace").rpartition("\t")
        if text.startswith(">"):
            tell(text[1:], float(share))


def _answer(code: int, out: bytes) -> bytes:
    if code == 0:
        return out
    if code == 2 and out:
        problem: dict[str, str] = json.loads(out)
        raise IntakeError(problem["text"], problem["field"])
    raise IntakeError(
        "This file is damaged, or larger inside than a pattern can be. Save it anew, and send that.", "file"
    )


def _main(reading: str, most_seconds: int) -> int:
    """Read head and files from standard input; write the answer, or (2) the reason, to standard output."""
    import resource

    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (most_seconds, most_seconds + 1))
    for name in ("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS", "OPENCV_FOR_THREADS_NUM"):
        os.environ.setdefault(name, "1")
    # What libraries print must not stand in the answer.
    answer = os.fdopen(os.dup(1), "wb")
    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)

    def tell(text: str, share: float) -> None:
        sys.stderr.write(f">{text}\t{share:.3f}\n")
        sys.stderr.flush()

    def refuse(text: str, field: str) -> int:
        answer.write(json.dumps({"text": text, "field": field}).encode())
        answer.flush()
        return 2

    from rowanseed.formats.readings import READINGS

    first = json.loads(sys.stdin.buffer.readline())
    files = [sys.stdin.buffer.read(size) for size in first["sizes"]]
    try:
        answer.write(READINGS[reading](first["head"], files, tell))
    except RowanseedError as error:
        return refuse(error.text, error.field)
    except (RecursionError, MemoryError):
        return refuse("This file is larger inside than a pattern can be.", "file")
    answer.close()
    return 0


if __name__ == "__main__":
    sys.exit(_main(sys.argv[1], int(sys.argv[2])))
