"""How well a result is known: instruments and constants, the scatter of its readings, the hand that tested."""
