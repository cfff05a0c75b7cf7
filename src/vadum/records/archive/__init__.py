"""A whole project in one file: JSON, attachments and issued sheets as they are, out and in again.

The file is a ZIP of the format ``vadum-project/1``: ``project.json``, and the bytes of attachments, issued sheets and
issued reports under ``files/`` by their SHA-256. What is imported is a new project; nothing of the laboratory is
changed by it.
"""

from vadum.records.archive.inward import Preview, bring_in, preview
from vadum.records.archive.opening import ArchiveError
from vadum.records.archive.out import export
from vadum.records.archive.plain import FORMAT

__all__ = ["FORMAT", "ArchiveError", "Preview", "bring_in", "export", "preview"]
