"""What the fillings of several methods need."""

from vadum.exchange.ags4.sent import Sent

PLATE_KN = 0.25 * 3.141592653589793 / 1e6  # kN per kPa and mm^2 of diameter squared


def between(coarse: float | None, fine: float | None) -> float | None:
    return None if coarse is None or fine is None else coarse - fine


def to_a_tenth(value: float | None) -> str | None:
    return None if value is None else f"{value:.1f}"


def at_depth(t: Sent, group: str, depth_m: float) -> dict[str, object]:
    return {f"{group}_DPTH": depth_m, f"{group}_TESN": str(t.number), f"{group}_DATE": t.on}


def zone(t: Sent, top_m: float, base_m: float) -> dict[str, object]:
    return {"IPRG_TOP": top_m, "IPRG_BASE": base_m, "IPRG_TESN": str(t.number), "IPRG_STG": 1, "IPRG_DATE": t.on}
