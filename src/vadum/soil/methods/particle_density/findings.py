"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import stop, warn

DETERMINATIONS_APART = warn(
    "determinations-apart",
    "The determinations are {spread:.3f} apart, more than {settings_spread:g}.",
    "Run a third and leave the odd one out with its reason; the lower one often kept air.",
)
WATER_NOT_ABOVE_FLASK = stop(
    "water-not-above-flask",
    "{name}: with water {full:g g} it is not heavier than empty, {empty:g g}.",
    "Look whether the two are exchanged; weigh again.",
)
SOIL_NOT_ABOVE_WATER = stop(
    "soil-not-above-water",
    "{name}: with soil and water {both:g g} it is not heavier than with water, {full:g g}.",
    "Look whether the two are exchanged; weigh again.",
)
MASS_SMALL = warn(
    "mass-small",
    "{name}: {mass_dry_g:g g} of soil is too little, at least {least_mass_g:g g}.",
    "Repeat with more soil.",
)
GS_IMPOSSIBLE = stop(
    "gs-impossible",
    "{name}: these masses give no grain density.",
    "Check the dry mass and the flask's number; weigh again.",
)
GS_LOW = warn(
    "gs-unusual",
    "{name}: Gs {gs:.3f} is low: air between the grains, a moist mass written for the dry, or light minerals.",
    "Remove air once more and weigh; dry the soil to constant mass; say under minerals if they are light.",
)
GS_HIGH = warn(
    "gs-unusual",
    "{name}: Gs {gs:.3f} is high: soil lost before it was dried, a flask not full of water alone, or heavy minerals.",
    "Wash out the flask and weigh the dry soil again; weigh the flask with water again; say so if minerals are heavy.",
)
FLASK_ODD = warn(
    "flask-odd",
    "{name} holds {volume:.0f cm³} by its masses: there are flasks of 50, 100, 250, 500 and 1000.",
    "Weigh the empty flask and the full one again.",
)
