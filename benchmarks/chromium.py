"""Which of Debian's browsers drives the pages: the one without windows where it is, which does less beside."""

import os
import shutil

CHROMIUM = (
    os.environ.get("CHROMIUM") or shutil.which("chromium-headless-shell") or shutil.which("chromium") or "chromium"
)
