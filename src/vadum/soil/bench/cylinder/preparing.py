"""What is prepared before a specimen is mounted, by the clock."""

from vadum.soil.contract.method import Operation

MOUNT_FROM_MIN = 40.0


def membrane_operations(soaking_min: float, *, done: bool) -> list[Operation]:
    """Return the soaking of the membrane, none where it is not soaked."""
    if soaking_min <= 0:
        return []
    return [
        Operation(
            key="membrane-soak",
            what=f"Put the membrane into water, {soaking_min / 60:g} h",
            due_min=0,
            tolerance_min=120,
            hands_on_min=2,
            holds_min=soaking_min,
            done=done,
        )
    ]


def stones_operations(from_min: float, *, done: bool) -> list[Operation]:
    """Return the stones' way from the boiling pot to de-aired water."""
    return [
        Operation(
            key="stones-boil",
            what="Boil the porous stones 10 min",
            due_min=from_min,
            tolerance_min=120,
            hands_on_min=3,
            holds_min=10,
            done=done,
        ),
        Operation(
            key="stones-cool",
            what="Take the stones off and let them cool in their water",
            due_min=from_min + 10,
            tolerance_min=15,
            hands_on_min=2,
            holds_min=20,
            done=done,
        ),
        Operation(
            key="stones-de-air",
            what="De-air the stones in the bath, keep them under de-aired water",
            due_min=from_min + 30,
            tolerance_min=60,
            hands_on_min=2,
            holds_min=10,
            done=done,
        ),
    ]
