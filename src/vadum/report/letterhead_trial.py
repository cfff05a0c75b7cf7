"""A logo set once before it is kept: one that the typesetter cannot take would break every sheet."""

import subprocess
import sys

from vadum.records.letterhead import Letterhead, LogoError
from vadum.report.document import compiled

_PATIENCE_S = 20


def set_once(head: Letterhead) -> None:
    """Set an empty document under a letterhead, in a process of its own that may hang or die.

    Raises
    ------
    LogoError
        If it cannot be set.
    """
    try:
        done = subprocess.run(
            [sys.executable, "-m", "vadum.report.letterhead_trial"],
            input=head.model_dump_json().encode(),
            capture_output=True,
            timeout=_PATIENCE_S,
            check=False,
        )
    except subprocess.TimeoutExpired as error:
        raise LogoError("The logo takes too long to set; save it simpler, or as PNG.") from error
    if done.returncode:
        raise LogoError("The logo cannot be set on paper; save it as a plain drawing or as PNG.")


if __name__ == "__main__":
    compiled(Letterhead.model_validate_json(sys.stdin.buffer.read()), [], kind="Sheet", title="Trial", number="0")
