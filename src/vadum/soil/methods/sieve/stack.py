"""The stack of sieves as far as it is weighed."""

from dataclasses import dataclass, field

from vadum.soil.methods.sieve.readings import Entry, SieveReadings, SieveRow, SieveSettings, Split, Washing


@dataclass(frozen=True)
class Part:
    """What was put on sieves together and weighed again: its name, the mass put in and the masses found."""

    held_by: str
    put_in_g: float
    found_g: float
    weighings: int
    whole: bool
    """Whether the pan of it is weighed too: before that it may only be too much."""


@dataclass
class Stack:
    """The stack as far as it is weighed: retained mass and percent finer by row, and the sum so far.

    Masses below a split are scaled up to the whole specimen.
    """

    total_g: float | None
    sieved_g: float | None
    retained_g: dict[int, float] = field(default_factory=dict)
    finer_percent: dict[int, float] = field(default_factory=dict)
    pan_g: float | None = None
    gap: int | None = None
    """The first row without a mass above a row that has one."""
    weighed_alone_g: dict[int, float] = field(default_factory=dict)
    """What lay on each sieve, before anything was scaled."""
    parts: list[Part] = field(default_factory=list)

    @property
    def on_sieves_g(self) -> float:
        return sum(self.retained_g.values())

    @property
    def weighed_g(self) -> float:
        return self.on_sieves_g + (self.pan_g or 0.0)


def weighed_stack(readings: SieveReadings, settings: SieveSettings) -> Stack:
    """Return the stack; percent finer stops at the first row whose mass is missing."""
    rows = [(i, row) for i, row in enumerate(readings.sieves) if row.used and row.opening_mm is not None]
    total, washed = readings.mass_dry_g or None, settings.washing == Washing.WASHED
    stack = Stack(total, (readings.mass_washed_g or None) if washed else total)
    _retained(stack, rows, readings, settings)
    alone = stack.weighed_alone_g
    if settings.split == Split.RIFFLED:
        _scaled(stack, rows, readings, settings)
    elif stack.sieved_g and alone:
        held = "Sieves and pan" if stack.pan_g is not None else "Sieves"
        found = sum(alone.values()) + (stack.pan_g or 0.0)
        stack.parts.append(Part(held, stack.sieved_g, found, len(alone) + 1, stack.pan_g is not None))
    if stack.total_g is None and stack.retained_g and stack.pan_g is not None:
        stack.total_g = stack.weighed_g or None
    if stack.total_g:
        so_far = 0.0
        for i, retained in stack.retained_g.items():
            if stack.gap is not None and i > stack.gap:
                break
            so_far += retained
            stack.finer_percent[i] = 100.0 * (1 - so_far / stack.total_g)
    return stack


def _retained(stack: Stack, rows: list[tuple[int, SieveRow]], readings: SieveReadings, settings: SieveSettings) -> None:
    cumulative = settings.entry == Entry.CUMULATIVE
    on_balance, missing = 0.0, None
    for i, row in rows:
        mass = row.written_g(settings.entry)
        if mass is None:
            missing = i if missing is None else missing
            continue
        if missing is not None and not cumulative and stack.gap is None:
            stack.gap = missing
        stack.weighed_alone_g[i] = mass - on_balance if cumulative else mass
        on_balance = mass if cumulative else on_balance
    stack.retained_g = dict(stack.weighed_alone_g)
    pan = readings.mass_pan_g
    if pan is not None:
        empty = readings.mass_pan_empty_g or 0.0 if settings.entry == Entry.LOADED else 0.0
        stack.pan_g = pan - on_balance - empty


def _scaled(stack: Stack, rows: list[tuple[int, SieveRow]], readings: SieveReadings, settings: SieveSettings) -> None:
    """Scale what lies below the split from the riffled part up to all that passed it.

    Source: ASTM D6913 (2017), clause 12, composite sieving.
    """
    split, below, riffled = readings.split_mm, readings.mass_below_split_g, readings.mass_riffled_g
    if not split or not below or not riffled:
        stack.retained_g, stack.sieved_g = {}, None
        return
    alone = stack.weighed_alone_g
    fine = [i for i, row in rows if row.opening_mm is not None and row.opening_mm < split * 0.999 and i in alone]
    coarse = [i for i in alone if i not in fine]
    factor = below / riffled
    stack.retained_g = {i: mass * (factor if i in fine else 1.0) for i, mass in alone.items()}
    if stack.total_g and coarse:
        found = sum(alone[i] for i in coarse) + below
        stack.parts.append(Part("Coarse sieves and what passed them", stack.total_g, found, len(coarse) + 1, True))
    onto = readings.mass_washed_g if settings.washing == Washing.WASHED else riffled
    stack.sieved_g = None if not onto else sum(alone[i] for i in coarse) + factor * onto
    if onto and fine:
        found = sum(alone[i] for i in fine) + (stack.pan_g or 0.0)
        held = "Fine sieves and pan" if stack.pan_g is not None else "Fine sieves"
        stack.parts.append(Part(held, onto, found, len(fine) + 1, stack.pan_g is not None))
    if stack.pan_g is not None:
        stack.pan_g *= factor
