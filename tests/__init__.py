"""All tests. ``SOILS`` is how many virtual soils come back where many do: fewer in `make test`, all in `make thorough`."""

import os

SOILS = int(os.environ.get("VADUM_SOILS", "200"))
