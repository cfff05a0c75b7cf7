"""The published geotechnical transfer format AGS4, edition 4.1.1: results out, projects, locations and samples in.

``sent`` is what goes out, ``laboratory`` and ``ground`` say which group and heading each method fills, ``write`` makes
the file, ``read`` takes one apart. The library ``python-ags4`` formats, parses and checks.
"""

EDITION = "4.1.1"
ENDING = ".ags"
MEDIA_TYPE = "text/plain; charset=utf-8"
