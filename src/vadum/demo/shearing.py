"""The demonstration laboratory's strength tests."""

from vadum.demo.builder import Builder
from vadum.demo.soils import BOX_SAND, CELL_CLAY, SOFT_GROUND, STIFF_CLAY, VANE


def shearing(lab: Builder) -> None:
    """Add a vane profile and a cylinder of BH2, and a box of the fill; one cylinder still at the press."""
    hole, pit, borrow = (lab.place(name) for name in ("BH2", "TP4", "BP1"))
    lab.test(hole, "vane", SOFT_GROUND, tools=("Vane 65",), drop=tuple(VANE))
    lab.test(pit.samples[1], "unconfined", STIFF_CLAY)
    lab.test(hole.samples[0], "triaxial", CELL_CLAY, tools=("Balance 2",))
    lab.test(borrow.samples[0], "direct-shear", BOX_SAND, tools=("Balance 2",))
    lab.test(
        hole.samples[1],
        "unconfined",
        STIFF_CLAY,
        state="running",
        mistakes=frozenset({"stopped-early"}),
        drop=("failure", "remoulded"),
    )
