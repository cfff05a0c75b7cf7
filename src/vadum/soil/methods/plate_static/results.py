"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, WHOLE

RATIO = Result("ratio", "Ev2/Ev1", "ratio of the moduli", "", HUNDREDTH, impossible=(0.5, 50.0), unusual=(1.0, 6.0))
EV1 = Result(
    "ev1",
    "Ev1",
    "deformation modulus, first loading",
    "MPa",
    TENTH,
    impossible=(0.5, 2000.0),
    unusual=(3.0, 250.0),
    takes="rock or peat, or the diameter of another plate",
)
EV2 = Result(
    "ev2",
    "Ev2",
    "deformation modulus, second loading",
    "MPa",
    TENTH,
    quantity="ev2",
    impossible=(0.5, 3000.0),
    unusual=(8.0, 500.0),
    takes="rock or peat, or the diameter of another plate",
)
EV1_OTHER = Result(
    "ev1_{other}", "Ev1 {other}", "first loading, {other}", "MPa", TENTH, meaning="first loading, by the other school"
)
EV2_OTHER = Result(
    "ev2_{other}", "Ev2 {other}", "second loading, {other}", "MPa", TENTH, meaning="second loading, by the other school"
)
KS = Result(
    "ks",
    "ks",
    "modulus of subgrade reaction",
    "MN/m³",
    WHOLE,
    basis="σ at 1.25 mm over 1.25 mm, 762 mm plate",
    impossible=(1.0, 2000.0),
    unusual=(5.0, 400.0),
)
ME1 = Result(
    "me1", "ME1", "modulus over {band}, first loading", "MPa", TENTH, basis="SN 670 317", meaning="over a fixed stretch"
)
ME2 = Result(
    "me2",
    "ME2",
    "modulus over {band}, second loading",
    "MPa",
    TENTH,
    basis="SN 670 317",
    meaning="over a fixed stretch",
)
JUDGEMENT = Result("judgement", "limits", "judgement against the project's limits", opinion=True)
