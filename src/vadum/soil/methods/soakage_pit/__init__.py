"""E6 soakage pit: a pit filled three times, judged by the time from three quarters to one quarter."""

from vadum.soil.methods.soakage_pit.method import SoakagePit

__all__ = ["SoakagePit"]
