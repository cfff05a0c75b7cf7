"""All tests. ``SOILS`` is how many virtual soils come back where many do: fewer in `make test`, all in `make
thorough`."""

import os

SOILS = int(os.environ.get("VADUM_SOILS", "200"))
# `make thorough` takes more of everything, and draws its examples from the clock.
THOROUGH = bool(os.environ.get("VADUM_THOROUGH"))
# Proofs that reduce each method's test by the hundred spent a third of their time on these two. Their records are those
# of the plunger in the mould and of the shear box, which stay.
LONG = {"triaxial", "cbr-in-situ"}


def drawn(codes):
    """Return the methods that are proved by the hundred: all of them where there is time."""
    return [code for code in codes if THOROUGH or code not in LONG]
