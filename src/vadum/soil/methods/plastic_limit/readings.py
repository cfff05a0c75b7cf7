"""What is written while threads are rolled."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.constant_mass import Reweighing, TinsDried, tins_dried, weighed_again
from vadum.soil.bench.weighing import TinRow
from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, Context, Leant, Readings, Settings, leant, reading, said, setting
from vadum.soil.site.plasticity_chart import Neighbour


class NotDeterminable(Choice):
    """Why there is no plastic limit."""

    NOT_ROLLED = "not-rolled", "cannot be rolled to 3.2 mm"
    CRUMBLES = "crumbles", "crumbles at any water content"


class Thread(TinRow):
    """One portion of threads rolled until they crumbled."""

    diameter_mm: float | None = reading(
        "crumbled at",
        "mm",
        about="diameter at which the thread crumbled",
        low=0.5,
        high=20,
        resolution=0.1,
        expected=(3.0, 3.4),
        absent=HARMLESS,
    )


class PlasticLimitReadings(Readings):
    """Portions in the order they were rolled."""

    threads: list[Thread] = Field(default_factory=list, title="threads", max_length=12)
    reweighings: list[Reweighing] = weighed_again()
    mass_set_aside_g: float | None = reading(
        "set aside",
        "g",
        about="mass set aside from the liquid-limit mix before it got too wet",
        low=0,
        high=1000,
        expected=(10, 20),
        absent=HARMLESS,
    )
    not_determinable: NotDeterminable | None = Field(
        default=None, title="cannot be determined because", description="then the soil is reported as non-plastic"
    )


class PlasticLimitSettings(Settings):
    """How many portions, and how close they must be."""

    portions: Literal["two", "three"] = setting(
        "two", "portions", "Two is the common practice and D4318's own count; three is the stricter school."
    )
    spread_percent: float = setting(
        2.0, "largest spread", "Portions further apart than this ask for another.", unit="%", low=0.1, high=10
    )
    least_mass_g: float = setting(
        6.0,
        "least mass of a portion",
        "Less soil makes the balance's resolution show in the result.",
        unit="g",
        low=1,
        high=100,
        followed=(6, None),
    )
    thread_mm: float = setting(
        3.2,
        "thread diameter",
        "3.2 mm (1/8 in) in D4318; 3.0 mm in the ISO school.",
        unit="mm",
        low=2.5,
        high=4,
        followed=(3.0, 3.2),
    )

    tins_dried: TinsDried = tins_dried()

    @property
    def needed(self) -> int:
        return 3 if self.portions == "three" else 2


class PlasticLimitContext(Context):
    """The liquid limit of the same sample, and what the indices lean on."""

    tins: dict[str, float] = Field(default_factory=dict, description="mass in g of each tin by number")
    liquid_limit: Leant | None = leant("liquid-limit.liquid_limit", "LL of this sample, percent, as reported")
    retained_0_425_mm: Leant | None = leant(
        "liquid-limit.retained_0_425_mm", "share taken out above 0.425 mm before the limits, percent of dry mass"
    )
    liquid_limit_not_determinable: bool = said(
        "liquid-limit.liquid_limit", "", "true when the liquid limit could not be had"
    )
    natural_water_content: Leant | None = leant("water-content.water_content", "natural water content, percent")
    clay_percent: Leant | None = leant("hydrometer.clay_percent", "share finer than 2 um, percent of dry mass")
    neighbours: list[Neighbour] = Field(default_factory=list, description="limits of the project's other samples")
