"""What is wrong with the disk, in words that say what to do."""

import errno

TROUBLES: tuple[tuple[tuple[str, ...], str, str], ...] = (
    (
        ("disk is full", "no space left"),
        "The disk is full",
        "Nothing was saved, and nothing that was saved before is lost. Free some room (old backups lie in the folder “backups” "
        "beside the data), then save again. Reading goes on.",
    ),
    (
        ("readonly", "read-only", "permission denied", "unable to open"),
        "The data cannot be written",
        "The file or its folder may only be read. Nothing was saved, and nothing is lost. Give the user that runs Rowanseed the "
        "right to write there, then save again. Reading goes on.",
    ),
    (
        ("locked", "busy"),
        "The data is in use",
        "Another program holds the file (a backup program, a second Rowanseed). Nothing was saved, and nothing is lost. Wait a "
        "moment and save again; if it lasts, end the other one.",
    ),
)


def disk_trouble(error: Exception) -> tuple[str, str]:
    """A title and what to do for an error of the database or of the disk."""
    said = str(error).lower()
    if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT):
        said = "no space left"
    for marks, title, text in TROUBLES:
        if any(mark in said for mark in marks):
            return title, text
    return (
        "The disk does not do what it should",
        f"{type(error).__name__}: {error}. Nothing was saved. “rowanseed check” tells whether the data is sound; a backup can be "
        "restored under Settings.",
    )
