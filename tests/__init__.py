"""All tests. ``SOILS`` is how many virtual soils come back where many do: fewer in `make test`, all in `make
thorough`."""

import os

SOILS = int(os.environ.get("VADUM_SOILS", "200"))
# `make thorough` takes more of everything, and draws its examples from the clock.
THOROUGH = bool(os.environ.get("VADUM_THOROUGH"))
