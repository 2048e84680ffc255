"""Which executor does the long work: worker processes here, or a scheduler's where one is named."""

import os

from rowanseed.jobs.pool import JobPool

SCHEDULER = "ROWANSEED_SCHEDULER"


class NoScheduler(Exception):
    """The scheduler that is named cannot be used, in words."""


def executor(workers: int, kept: int = 0) -> JobPool:
    """The scheduler's workers where `ROWANSEED_SCHEDULER` names one, else so many worker processes on this machine.

    Args:
        kept: further ones for small lays alone.
    Raises:
        NoScheduler: the scheduler does not answer, or the extra `cluster` is not installed.
    """
    address = os.environ.get(SCHEDULER, "").strip()
    if not address:
        return JobPool(workers, kept=kept)
    try:
        from rowanseed.jobs.cluster import ClusterPool
    except ImportError as error:
        raise NoScheduler(f"{SCHEDULER} is set, but the extra is missing: pip install 'rowanseed[cluster]'.") from error
    try:
        return ClusterPool(address)
    except (OSError, ValueError) as error:
        raise NoScheduler(f"No scheduler answers at {address}. Start it, or unset {SCHEDULER}.") from error
