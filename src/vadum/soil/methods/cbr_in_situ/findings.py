"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

REACTION_LIFTED = note(
    "reaction-lifted",
    "The reaction lifted at {reached_mm:g mm}: {what} is judged at {names} only, and printed so.",
    "Unload the ring before the stands are struck. Use a heavier vehicle for more.",
)
REACTION_LIFTED_EARLY = stop(
    "reaction-lifted-early",
    "The reaction lifted at {reached_mm:g mm}, before {first}.",
    "Unload the ring before the stands are struck; come back with a heavier vehicle.",
)
POSITIONS_APART = warn(
    "positions-apart",
    "{label}, {ratio:.1f %}, is {spread:.0f %} off the mean of {mean:.1f %}.",
    "Look at the ground there; run three more positions as another test: the mean of all six counts.",
)
DATUM_NEAR = warn(
    "datum-near",
    "The datum bar stands where the ground settles.",
    "Move its feet away: it may touch neither vehicle nor surcharge.",
)
TOO_COARSE = stop(
    "too-coarse", "Stones above 20 mm lie under the plunger.", "Move the plunger, or test with a plate instead."
)
REACTION_SMALL = warn(
    "reaction-small",
    "{reaction_kn:g kN} of reaction measures up to CBR {most:.0f %}; {expected:g %} is expected.",
    "Load the vehicle, or take a heavier one.",
)
REACTION_REACHED = warn(
    "reaction-reached",
    "{label}: {kn:.1f kN} at {at:g mm}, of {reaction:g kN} of reaction: the vehicle begins to come up.",
    "Watch the stands; load the vehicle before the next position.",
)
LIFTS = stop(
    "reaction-lifts",
    "{label}: from {at:g mm} on the force stays at {kn:.1f kN}, the reaction of {reaction:g kN}: the vehicle lifts.",
    "Say that the reaction lifted and leave out the readings from there on with that reason.",
)
RING_CHOICE = warn(
    "ring-choice", "{force:.1f kN} at 5 mm is {percent:.0f %} of the ring's {kn:g kN}.", "Take a {size} ring."
)
UNSUPPORTED = stop(
    "unsupported",
    "The vehicle rests on its springs.",
    "Jack it up onto stands before anybody reaches below; nobody under it.",
)
NOT_CHOCKED = stop(
    "not-chocked", "The vehicle is not chocked.", "Brakes on, wheels chocked, level ground, before the jack takes load."
)
SERVICES_UNKNOWN = stop("services-unknown", "Cables and pipes are not located.", "Stop until the services are located.")
EXPECTED_OFF = warn(
    "expected-off",
    "CBR {ratio:.0f %} is not of the size of the {expected:g %} expected.",
    "Read the ring's factor and unit again; if both are right, correct what is expected.",
)
