"""Modules and style sheets sent as one file: what they do is what they did one by one."""

import re

import pytest

from vadum.web import files, joining

MODULES = {
    "pages/a/a.js": """import { clock as now, LATE } from "../../static/js/core/clock.js";
import * as words from "./words.js";
import "./aside.js";
words.say(now(), LATE);
""",
    "pages/a/words.js": """import { LATE } from "../../static/js/core/clock.js";
export const say = (...what) => console.log(...what, LATE);
""",
    "pages/a/aside.js": "const LATE = 5;\n",
    "static/js/core/clock.js": """import { zone } from "./zone.js";
export const LATE = 3;
export async function clock() {}
""",
    "static/js/core/zone.js": "export function zone() {}\n",
    "static/theme.js": "const theme = 1;\n",
}


def test_a_script_brings_the_modules_beside_it_in_scopes_of_their_own():
    made = joining.script("pages/a/a.js", MODULES.__getitem__)
    assert (
        made
        == """import { static_js_core_clock_js } from "./../../static/js/core.js";
const pages_a_words_js = (() => {
const { LATE } = static_js_core_clock_js;
const say = (...what) => console.log(...what, LATE);
return { say };
})();
const pages_a_aside_js = (() => {
const LATE = 5;
return {  };
})();
const pages_a_a_js = (() => {
const { clock: now, LATE } = static_js_core_clock_js;
const words = pages_a_words_js;

words.say(now(), LATE);
return {  };
})();
"""
    )


def test_a_name_that_is_not_exported_is_told():
    """Of `export const INSERT_MS = 30000, MINUTE = 60000` only the first name was: readings were at NaN minutes."""
    modules = {
        "a/b.js": 'import { late as soon, MINUTE } from "./c.js";\n',
        "a/c.js": "export const late = 1, MINUTE = 2;\n",
    }
    with pytest.raises(ValueError, match=r"a/b.js imports MINUTE: a/c.js exports no such name"):
        joining.script("a/b.js", modules.__getitem__)


def test_a_module_of_another_page_is_not_joined():
    modules = {"pages/a/b.js": 'import { say } from "../c/d.js";\n', "pages/c/d.js": "export const say = 1;\n"}
    with pytest.raises(ValueError, match=r"pages/a/b.js imports pages/c/d.js, which stands neither beside it nor in"):
        joining.script("pages/a/b.js", modules.__getitem__)


def test_what_all_scripts_share_is_one_module_in_the_order_it_is_needed():
    made = joining.core(["static/js/core/clock.js", "static/js/core/zone.js"], MODULES.__getitem__)
    assert made.index("static_js_core_zone_js = ") < made.index("static_js_core_clock_js = ")
    assert made.endswith("export { static_js_core_zone_js, static_js_core_clock_js };\n")
    assert "return { LATE, clock };" in made


def test_a_script_of_one_part_is_sent_as_it_is():
    assert joining.script("static/theme.js", MODULES.__getitem__) == MODULES["static/theme.js"]


def test_styles_find_their_pictures_from_where_they_are_joined():
    sheets = {
        "static/css/all.css": '@import "../../pages/a/a.css";\np {}\n',
        "pages/a/a.css": 'a { mask: url("../../static/b.svg") } b { mask: url("data:image/svg+xml,x") }\n',
    }
    made = joining.styles("static/css/all.css", sheets.__getitem__)
    assert made == 'a { mask: url("../b.svg") } b { mask: url("data:image/svg+xml,x") }\n\np {}\n'


@pytest.mark.parametrize("of", sorted(of for of in files.sent() if of.endswith(".js") and "vendor" not in of))
def test_nothing_of_ours_imports_or_exports_in_a_way_that_is_not_joined(of):
    text = files._bodies(of)[0].decode()
    lines = re.findall(r"^(?:import|export)\b.*", text, re.MULTILINE)
    assert len(lines) <= 1, lines
    assert not re.search(r"\bimport\(|\bexport let\b", text), "what changes after it is exported stays as it was"


def test_every_line_of_every_module_is_sent_in_something():
    every = {line for of in files.sent() if of.endswith(".js") for line in files._bodies(of)[0].decode().splitlines()}
    for of, text in files._ours().items():
        if of.endswith(".js"):
            own = joining._EXPORT.sub("", joining._IMPORT.sub("", text)).splitlines()
            assert set(own) <= every, f"{of} reaches no browser"
