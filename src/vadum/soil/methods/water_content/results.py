"""What the test gives."""

from vadum.soil.contract.result import Result

WATER_CONTENT = Result("water_content", "w", "water content", "%", quantity="water_content", card=1)
