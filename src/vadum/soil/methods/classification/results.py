"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import WHOLE

GROUP_SYMBOL = Result("group_symbol", "unified", "group symbol")
GROUP_NAME = Result("group_name", "name", "group name")
GROUP_INDEX = Result("group_index", "GI", "group index", "", WHOLE, impossible=(0.0, 200.0))
HIGHWAY_NAME = Result("highway_name", "usually", "made up of")
HIGHWAY_GROUP = Result("highway_group", "highway", "group and index")
TEXTURE = Result("texture", "texture", "of the fine earth", basis="Soil Survey Manual ch. 3")
