"""What the laboratory, or one of its projects, chooses for new tests of a method. Tests on record are never touched."""

import json
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ValidationError
from sqlmodel import Session

from vadum.records.chosen import choose
from vadum.records.kept_settings import keep_setting, setting
from vadum.records.saving import DEFAULT, BadSettings
from vadum.records.tables import Project, Test
from vadum.soil.contract.cells import labelled
from vadum.soil.contract.field import unit_of
from vadum.soil.contract.method import Method

LABORATORY, PROJECT = "preset of the laboratory", "preset of the project"
_KEY = "presets"
AnyMethod = Method[Any, Any, Any]


def part_of(method: AnyMethod) -> str:
    """Return what a list of changes calls the preset of a method."""
    return f"preset of {method.title}"


def presettable(method: AnyMethod) -> list[str]:
    """Return the settings that may be chosen beforehand: of planned tests, not what is drawn by hand on a figure."""
    if method.applies_to == "equipment":
        return []
    return [name for name, info in method.Settings.model_fields.items() if info.default is not None]


@dataclass(frozen=True)
class Presets:
    """What is chosen for new tests, by method: in the laboratory, and in one of its projects."""

    laboratory: dict[str, dict[str, Any]]
    project: dict[str, dict[str, Any]]

    @classmethod
    def of(cls, session: Session, project: Project | None) -> "Presets":
        """Return those that hold in a project, or in the laboratory."""
        kept = setting(session, _KEY)
        return cls(json.loads(kept) if kept else {}, project.presets if project else {})

    def in_laboratory(self, method: AnyMethod) -> dict[str, Any]:
        """Return what the laboratory chooses otherwise than the method's own defaults."""
        return _known(method, self.laboratory.get(method.code, {}))

    def in_project(self, method: AnyMethod) -> dict[str, Any]:
        """Return what the project chooses otherwise than its laboratory."""
        return _known(method, self.project.get(method.code, {}))

    def chosen(self, method: AnyMethod) -> dict[str, Any]:
        """Return what a new test is begun with that is not the method's default."""
        usual = method.Settings().model_dump(mode="json")
        both = self.in_laboratory(method) | self.in_project(method)
        return {name: value for name, value in both.items() if value != usual[name]}

    def origins(self, method: AnyMethod) -> dict[str, str]:
        """Return whose choice each value is."""
        own = self.in_project(method)
        return {name: PROJECT if name in own else LABORATORY for name in self.chosen(method)}


def keep_preset(
    session: Session,
    method: AnyMethod,
    project: Project | None,
    wanted: dict[str, Any],
    who: str,
    seen: int | None = None,
) -> None:
    """Keep what new tests are begun with, of the laboratory or of a project, and commit.

    Raises
    ------
    BadSettings
        If the method cannot take it.
    CorrectionError
        If somebody changed the same meanwhile.
    """
    presets = Presets.of(session, project)
    below = presets.in_laboratory(method) if project else {}
    before = method.Settings.model_validate(presets.chosen(method))

    def in_words(settings: BaseModel) -> dict[str, str]:
        return {name: said(method, name, getattr(settings, name)) for name in presettable(method)}

    try:
        after = method.Settings.model_validate(below | wanted)
        chosen = choose(session, project, part_of(method), before, after, who, seen, in_words)
    except ValidationError as error:
        raise BadSettings(error) from error
    whole = chosen.model_dump(mode="json")
    usual = method.Settings().model_dump(mode="json") | below
    differing = {name: whole[name] for name in presettable(method) if whole[name] != usual[name]}
    if project is not None:
        project.presets = _with(presets.project, method, differing)
        session.add(project)
        session.commit()
    else:
        keep_setting(session, _KEY, json.dumps(_with(presets.laboratory, method, differing)))


def _with(kept: dict[str, Any], method: AnyMethod, chosen: dict[str, Any]) -> dict[str, Any]:
    others = {code: one for code, one in kept.items() if code != method.code}
    return others | ({method.code: chosen} if chosen else {})


def words(method: AnyMethod, chosen: dict[str, Any]) -> str:
    """Return settings in the words of the method."""
    fields = method.Settings.model_fields
    return ", ".join(
        f"{fields[name].title or name} {said(method, name, value)}" for name, value in chosen.items() if name in fields
    )


def said(method: AnyMethod, name: str, value: Any) -> str:
    """Return the value of a setting as people say it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    text = labelled(method.Settings, name, f"{value:g}" if isinstance(value, float) else str(value))
    return f"{text} {unit_of(method.Settings, name) or ''}".rstrip()


def begun(session: Session, method: AnyMethod, project: Project | None, largest_particle_mm: float | None) -> Test:
    """Return a new test with the settings of its preset and the rows these prepare; not yet of anything."""
    presets = Presets.of(session, project)
    chosen = presets.chosen(method)
    settings = method.Settings.model_validate(chosen)
    test = Test(method=method.code, kept=method.begin(settings, largest_particle_mm))
    if chosen:
        whole = settings.model_dump(mode="json")
        test.settings, test.setting_origins = whole, dict.fromkeys(whole, DEFAULT) | presets.origins(method)
    return test


def _known(method: AnyMethod, kept: dict[str, Any]) -> dict[str, Any]:
    """Return what of a preset the method still takes: a release may have dropped a setting or a word."""
    taken = {}
    for name, value in kept.items():
        try:
            method.Settings.model_validate({name: value})
        except ValidationError:
            continue
        taken[name] = value
    return taken
