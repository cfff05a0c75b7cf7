"""What an installation brings along: all that stands with the modules; an editable one hides what is missing."""

import tomllib
from pathlib import Path

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "vadum"


def standing():
    """Every file of the application, without what Python makes of it."""
    return {file for file in SOURCE.rglob("*") if file.is_file() and "__pycache__" not in file.parts}


def test_every_file_beside_the_modules_is_packed():
    patterns = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["setuptools"]["package-data"]["vadum"]
    packed = {file for pattern in patterns for file in SOURCE.glob(pattern)}
    assert {file for file in standing() if file.suffix != ".py"} - packed == set()
    assert not any("__pycache__" in file.parts for file in packed)


def test_every_folder_of_modules_is_a_package():
    folders = {file.parent for file in standing() if file.suffix == ".py"}
    assert [folder for folder in folders if not (folder / "__init__.py").exists()] == []
