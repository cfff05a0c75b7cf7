"""The stack of sieves as far as it is weighed."""

from dataclasses import dataclass, field

from vadum.soil.methods.sieve.readings import SieveReadings, SieveSettings, Washing


@dataclass
class Stack:
    """The stack as far as it is weighed: retained mass and percent finer by row, and the sum so far."""

    total_g: float | None
    sieved_g: float | None
    retained_g: dict[int, float] = field(default_factory=dict)
    finer_percent: dict[int, float] = field(default_factory=dict)
    pan_g: float | None = None
    gap: int | None = None
    """The first row without a mass above a row that has one."""

    @property
    def on_sieves_g(self) -> float:
        return sum(self.retained_g.values())

    @property
    def weighed_g(self) -> float:
        return self.on_sieves_g + (self.pan_g or 0.0)


def weighed_stack(readings: SieveReadings, settings: SieveSettings) -> Stack:
    """Return the stack; percent finer stops at the first row whose mass is missing."""
    rows = [(i, row) for i, row in enumerate(readings.sieves) if row.used and row.opening_mm is not None]
    washed = settings.washing == Washing.WASHED
    total = readings.mass_dry_g or None
    stack = Stack(total, (readings.mass_washed_g or None) if washed else total)
    cumulative = settings.entry == "cumulative"
    on_balance = 0.0
    missing: int | None = None
    for i, row in rows:
        mass = row.mass_cumulative_g if cumulative else row.mass_retained_g
        if mass is None:
            missing = i if missing is None else missing
            continue
        if missing is not None and not cumulative and stack.gap is None:
            stack.gap = missing
        stack.retained_g[i] = mass - on_balance if cumulative else mass
        on_balance = mass if cumulative else on_balance
    if readings.mass_pan_g is not None:
        stack.pan_g = readings.mass_pan_g - on_balance if cumulative else readings.mass_pan_g
        if stack.total_g is None and stack.retained_g:
            stack.total_g = stack.weighed_g or None
    if stack.total_g:
        so_far = 0.0
        for i, retained in stack.retained_g.items():
            if stack.gap is not None and i > stack.gap:
                break
            so_far += retained
            stack.finer_percent[i] = 100.0 * (1 - so_far / stack.total_g)
    return stack
