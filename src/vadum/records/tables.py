"""The tables. Times are UTC; readings and settings are kept as entered, results are always recomputed."""

from datetime import UTC, date, datetime
from typing import Any, Literal, get_args

from sqlalchemy import JSON, Column, Date, DateTime, Index, LargeBinary, TypeDecorator, UniqueConstraint, text
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import object_session
from sqlmodel import Field, Relationship, SQLModel

from vadum.records.logs import with_logs
from vadum.soil.numbers.written import SI

State = Literal["planned", "running", "reduced", "checked", "issued", "void"]
STATES: tuple[str, ...] = get_args(State)
EquipmentKind = Literal[
    "tin",
    "cup",
    "grooving tool",
    "balance",
    "oven",
    "sieve",
    "hydrometer",
    "pycnometer",
    "mould",
    "ring",
    "load ring",
    "gauge",
    "plate",
    "vane",
    "shear box",
    "permeameter",
    "cylinder",
    "pH meter",
    "logger",
    "press",
    "rammer",
    "cone",
    "triaxial cell",
    "pressure gauge",
    "thermometer",
    "dynamic cone",
    "drop plate",
    "density gauge",
]
EQUIPMENT_KINDS: tuple[str, ...] = get_args(EquipmentKind)


def now() -> datetime:
    return datetime.now(UTC)


def placed(location: str | None, sample: str | None) -> str:
    """Return where soil is from, in short, by the names of its location and its sample."""
    return " ".join(filter(None, (location, sample)))


class UtcDateTime(TypeDecorator[datetime]):
    """Aware UTC in Python, plain in SQLite, which knows no zones."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return value.astimezone(UTC).replace(tzinfo=None) if value else None

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return value.replace(tzinfo=UTC) if value else None


class Project(SQLModel, table=True):
    id: int | None = Field(default=None, primary_key=True)
    name: str
    client: str = ""
    note: str = ""
    lift_rule: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    presets: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    infiltration_rule: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    order_number: str = ""
    wanted_by: date | None = Field(default=None, sa_column=Column(Date))
    standard: str = ""
    report_to: str = ""
    units: str = SI.name
    decimal_mark: str = "."
    guarded: bool = False
    locations: list["Location"] = Relationship(
        back_populates="project", sa_relationship_kwargs={"order_by": "Location.id"}
    )


class Location(SQLModel, table=True):
    """A borehole, pit or test point."""

    id: int | None = Field(default=None, primary_key=True)
    project_id: int = Field(foreign_key="project.id", index=True)
    name: str
    kind: str = "test pit"
    level_m: float | None = None
    easting_m: float | None = None
    northing_m: float | None = None
    latitude_deg: float | None = None
    longitude_deg: float | None = None
    depth_m: float
    water_struck_m: float | None = None
    """Depth at which water was met while digging or boring."""
    water_m: float | None = None
    """Depth of the water once it stood."""
    project: Project = Relationship(back_populates="locations")
    strata: list["Stratum"] = Relationship(
        back_populates="location", sa_relationship_kwargs={"order_by": "Stratum.top_m"}
    )
    samples: list["Sample"] = Relationship(
        back_populates="location", sa_relationship_kwargs={"order_by": "Sample.top_m"}
    )
    tests: list["Test"] = Relationship(back_populates="location", sa_relationship_kwargs={"order_by": "Test.id"})


class Stratum(SQLModel, table=True):
    """A layer as logged in the field; what it is drawn as comes from the tests of the samples in it."""

    id: int | None = Field(default=None, primary_key=True)
    location_id: int = Field(foreign_key="location.id", index=True)
    top_m: float
    base_m: float
    description: str = ""
    location: Location = Relationship(back_populates="strata")


class Sample(SQLModel, table=True):
    id: int | None = Field(default=None, primary_key=True)
    location_id: int = Field(foreign_key="location.id", index=True)
    name: str
    kind: str = "bag"
    top_m: float
    base_m: float
    mass_g: float | None = None
    largest_particle_mm: float | None = None
    description: str = ""
    custody: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    """What is known of its way to the bench, and who changed that when (:mod:`vadum.records.custody`)."""
    location: Location = Relationship(back_populates="samples")
    tests: list["Test"] = Relationship(back_populates="sample", sa_relationship_kwargs={"order_by": "Test.id"})


class Correction(SQLModel, table=True):
    """What was corrected of a project, location or sample: each field with what stood there and what stands now."""

    id: int | None = Field(default=None, primary_key=True)
    of: str
    row_id: int = Field(index=True)
    at: datetime = Field(default_factory=now, sa_column=Column(UtcDateTime, nullable=False))
    who: str
    reason: str = ""
    changed: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))


class Equipment(SQLModel, table=True):
    """A piece of equipment of one of the kinds. A tin has its tare; a cup falls due for inspection
    every day of use; a load ring has its calibration, rows of divisions and kN; a vane has its constants, by the names
    of the readings they fill where these are left blank."""

    id: int | None = Field(default=None, primary_key=True)
    kind: str = Field(index=True)
    name: str = Field(unique=True)
    note: str = ""
    tare_g: float | None = None
    resolution: float | None = None
    inspect_every_days: int | None = None
    calibration: list[tuple[float, float]] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))
    constants: dict[str, float] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    tests: list["Test"] = Relationship(back_populates="equipment", sa_relationship_kwargs={"order_by": "Test.id"})


class Calibration(SQLModel, table=True):
    """A calibration of a piece of equipment: from its day on, until it runs out. Earlier ones stay for earlier tests.

    ``uncertainty`` is the expanded one of the certificate, k = 2, in the unit of the piece's readings.
    """

    id: int | None = Field(default=None, primary_key=True)
    equipment_id: int = Field(foreign_key="equipment.id", index=True)
    on: date = Field(sa_column=Column("day", Date, nullable=False))
    due: date | None = None
    table: list[tuple[float, float]] = Field(default_factory=list, sa_column=Column("rows", JSON, nullable=False))
    constants: dict[str, float] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    uncertainty: float | None = None
    note: str = ""
    who: str
    certificate_number: str = ""
    certificate_name: str = ""
    certificate: bytes | None = Field(default=None, sa_column=Column(LargeBinary))


class TestUse(SQLModel, table=True):
    """Which equipment a test uses."""

    __tablename__ = "test_use"
    __test__ = False
    test_id: int = Field(foreign_key="test.id", primary_key=True)
    equipment_id: int = Field(foreign_key="equipment.id", primary_key=True)


class Test(SQLModel, table=True):
    """A test of a sample, a test in the ground at a location, or an inspection of a piece of equipment.

    ``kept``, ``unread`` and ``settings`` are the newest revision, kept here so that a page needs one row. ``kept`` are
    the readings with a reference in the place of each logger file; ``readings`` are all of them. ``settings`` are
    whole, ``setting_origins`` say where each value came from, ``version`` is the method's when the test was last
    reduced. ``summary`` is what lists show of the newest reduction; it can always be recomputed. ``moved`` says in
    words what the test leans on and has changed since it was checked. ``offered`` is what the method's earlier version
    had made of an open test, until somebody takes the newer one. ``unread`` holds text typed into cells that cannot be
    taken as a reading, by path, so that it is not lost. ``bindings`` say which instrument fills a column, ``origins``
    from which instrument and calibration a reading came, or as what it was typed in another unit. ``practice`` is what
    the virtual bench hides (seed, speed, planted mistakes); empty for real tests. A practice test belongs
    to no sample, so that nothing of the laboratory can lean on it.
    """

    __test__ = False
    __table_args__ = (
        Index("ix_test_moved", "state", sqlite_where=text("CAST(moved AS VARCHAR) != '[]'")),
        Index(
            "ix_test_practice",
            "sample_id",
            "location_id",
            "equipment_id",
            sqlite_where=text("sample_id IS NULL AND location_id IS NULL AND equipment_id IS NULL"),
        ),
    )
    id: int | None = Field(default=None, primary_key=True)
    method: str = Field(index=True)
    sample_id: int | None = Field(default=None, foreign_key="sample.id", index=True)
    location_id: int | None = Field(default=None, foreign_key="location.id", index=True)
    equipment_id: int | None = Field(default=None, foreign_key="equipment.id", index=True)
    state: str = Field(default="planned", index=True)
    void_reason: str = ""
    revision: int = 0
    kept: dict[str, Any] = Field(default_factory=dict, sa_column=Column("readings", JSON, nullable=False))
    unread: dict[str, str] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    settings: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    setting_origins: dict[str, str] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    version: str = ""
    moved: list[str] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))
    offered: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    summary: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    bindings: dict[str, str] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    origins: dict[str, dict[str, Any]] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    practice: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    uses_said: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    """Who said, on which day, that its equipment is what was used; or the test ``from`` which it is only proposed."""
    created_at: datetime = Field(default_factory=now, sa_column=Column(UtcDateTime, nullable=False))
    updated_at: datetime = Field(default_factory=now, sa_column=Column(UtcDateTime, nullable=False))
    sample: Sample | None = Relationship(back_populates="tests")
    location: Location | None = Relationship(back_populates="tests")
    equipment: Equipment | None = Relationship(back_populates="tests")
    uses: list[Equipment] = Relationship(link_model=TestUse, sa_relationship_kwargs={"order_by": "Equipment.id"})

    @property
    def readings(self) -> dict[str, Any]:
        """The readings with the rows of logger files in their places; not to be changed in place."""
        return with_logs(object_session(self), self.kept)

    @property
    def ground(self) -> Location | None:
        """The location the soil belongs to."""
        return self.sample.location if self.sample else self.location

    @property
    def place(self) -> str:
        """Where the soil is from, in short; empty for equipment and practice."""
        ground = self.ground
        return placed(ground.name if ground else None, self.sample.name if self.sample else None)


class OperationTime(SQLModel, table=True):
    """When an operation of a test's timetable was done: by its readings, or said on the board."""

    __tablename__ = "operation_time"
    __table_args__ = (UniqueConstraint("test_id", "key"),)
    id: int | None = Field(default=None, primary_key=True)
    test_id: int = Field(foreign_key="test.id", index=True)
    key: str
    at: datetime = Field(sa_column=Column(UtcDateTime, nullable=False))
    who: str
    said: bool = False


class WorkPlan(SQLModel, table=True):
    """The plan that a person works by: what was asked, and each operation with its time as it was planned.

    ``asked`` are the tests, hours, places and what was put where by hand; ``lines`` one per operation.
    """

    __tablename__ = "work_plan"
    id: int | None = Field(default=None, primary_key=True)
    who: str = Field(unique=True)
    kept_at: datetime = Field(default_factory=now, sa_column=Column(UtcDateTime, nullable=False))
    asked: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    lines: list[dict[str, Any]] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))


class Revision(SQLModel, table=True):
    """One saved change of a test: append-only, never rewritten.

    ``changed`` is what differs from the revision before (:mod:`vadum.records.changes`). ``save_key`` is made by the
    browser for each save, so that a save sent twice is kept once; ``sent_sha256`` tells whether it was the same save.
    ``at`` is when it was saved; ``typed_at`` when it was typed, where it waited in a browser for the line.
    """

    __table_args__ = (UniqueConstraint("test_id", "number"), UniqueConstraint("test_id", "save_key"))
    id: int | None = Field(default=None, primary_key=True)
    test_id: int = Field(foreign_key="test.id", index=True)
    number: int
    at: datetime = Field(default_factory=now, sa_column=Column(UtcDateTime, nullable=False))
    typed_at: datetime | None = Field(default=None, sa_column=Column(UtcDateTime, nullable=True))
    who: str
    what: str
    reason: str = ""
    save_key: str
    sent_sha256: str = ""
    state: str
    changed: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))


class Check(SQLModel, table=True):
    """What a second person checked, whole: later changes of anything it leant on do not reach it.

    ``context`` is what the method was given beside the readings, ``leans`` the same for people: each value with its
    source. ``pieces`` is the equipment with the calibration that counted. ``result`` is the reduction, by ``version``
    of the method. ``unsettled`` are doubts brought from a laboratory whose checks froze nothing. ``accepted`` says who
    kept the result, why, and on which ground, after the ground had moved.
    """

    __tablename__ = "checked_test"
    id: int | None = Field(default=None, primary_key=True)
    test_id: int = Field(foreign_key="test.id", index=True)
    revision: int
    who: str
    at: datetime = Field(default_factory=now, sa_column=Column(UtcDateTime, nullable=False))
    version: str
    kept: dict[str, Any] = Field(sa_column=Column("readings", JSON, nullable=False))
    settings: dict[str, Any] = Field(sa_column=Column(JSON, nullable=False))
    setting_origins: dict[str, str] = Field(sa_column=Column(JSON, nullable=False))
    origins: dict[str, dict[str, Any]] = Field(sa_column=Column(JSON, nullable=False))
    context: dict[str, Any] = Field(sa_column=Column(JSON, nullable=False))
    leans: list[dict[str, Any]] = Field(sa_column=Column(JSON, nullable=False))
    pieces: list[dict[str, Any]] = Field(sa_column=Column(JSON, nullable=False))
    result: dict[str, Any] = Field(sa_column=Column(JSON, nullable=False))
    unsettled: list[str] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))
    accepted: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))

    @property
    def readings(self) -> dict[str, Any]:
        """The readings that were checked, with the rows of logger files in their places."""
        return with_logs(object_session(self), self.kept)


class LaboratorySetting(SQLModel, table=True):
    """A value of the whole laboratory, such as the key that signs its cookies."""

    __tablename__ = "laboratory_setting"
    key: str = Field(primary_key=True)
    value: str


class Person(SQLModel, table=True):
    """Somebody who works in the laboratory, in one of the roles. ``everywhere`` is false for a person of some projects
    only.

    Without a password hash nobody signs in by password; the demonstration laboratory lets such people in by a click.
    """

    id: int | None = Field(default=None, primary_key=True)
    name: str = Field(unique=True)
    role: str
    function: str = ""
    """What the person is in the laboratory, as sheets print it: head of laboratory."""
    password_hash: str = ""
    everywhere: bool = True
    active: bool = True
    created_at: datetime = Field(default_factory=now, sa_column=Column(UtcDateTime, nullable=False))


class Membership(SQLModel, table=True):
    """A project that a person who is not everywhere may see."""

    person_id: int = Field(foreign_key="person.id", primary_key=True)
    project_id: int = Field(foreign_key="project.id", primary_key=True)


class Competence(SQLModel, table=True):
    """A signature that somebody may measure by a method alone, until it runs out or is withdrawn."""

    id: int | None = Field(default=None, primary_key=True)
    person_id: int = Field(foreign_key="person.id", index=True)
    method: str
    at: datetime = Field(sa_column=Column(UtcDateTime, nullable=False))
    until: date = Field(sa_column=Column(Date, nullable=False))
    signed_by: str
    grounds: str
    ended_at: datetime | None = Field(default=None, sa_column=Column(UtcDateTime))
    ended_by: str = ""


class SignIn(SQLModel, table=True):
    """A session, or a token for a script: only the hash of its secret is kept. An ended one is refused for good."""

    __tablename__ = "sign_in"
    id: int | None = Field(default=None, primary_key=True)
    person_id: int = Field(foreign_key="person.id", index=True)
    secret_sha256: str = Field(unique=True)
    token_name: str = ""
    scope: str = ""
    at: datetime = Field(default_factory=now, sa_column=Column(UtcDateTime, nullable=False))
    ended_at: datetime | None = Field(default=None, sa_column=Column(UtcDateTime))


class Attachment(SQLModel, table=True):
    """A file kept with a test: a photograph, or the file that readings were taken from, as it came.

    ``sha256`` is of ``data``; ``small`` is a copy for the screen. ``beside`` is the key of the figure that a photograph
    stands beside. A removed one stays on record, with the reason.
    """

    id: int | None = Field(default=None, primary_key=True)
    test_id: int = Field(foreign_key="test.id", index=True)
    kind: str
    name: str
    caption: str = ""
    beside: str = ""
    media_type: str
    sha256: str
    size: int
    data: bytes = Field(sa_column=Column(LargeBinary, nullable=False))
    small: bytes | None = Field(default=None, sa_column=Column(LargeBinary))
    who: str
    at: datetime = Field(default_factory=now, sa_column=Column(UtcDateTime, nullable=False))
    removed_because: str = ""
    removed_by: str = ""
    removed_at: datetime | None = Field(default=None, sa_column=Column(UtcDateTime))


class IssuedSheet(SQLModel, table=True):
    """A sheet as it left the laboratory: its number, the PDF and its hash. Never changed; a later one may replace
    it."""

    __tablename__ = "issued_sheet"
    id: int | None = Field(default=None, primary_key=True)
    test_id: int = Field(foreign_key="test.id", index=True)
    number: str = Field(unique=True)
    at: datetime = Field(sa_column=Column(UtcDateTime, nullable=False))
    who: str
    revision: int
    sha256: str
    data: bytes = Field(sa_column=Column(LargeBinary, nullable=False))
    replaces: str = ""
    reason: str = ""


class Report(SQLModel, table=True):
    """A report of a project: what it is made of, how far it is made, and the PDF. An issued one is never changed.

    ``wanted`` is what was chosen; ``revisions`` are the revisions of the tests it was made from, by their number.
    """

    id: int | None = Field(default=None, primary_key=True)
    project_id: int = Field(foreign_key="project.id", index=True)
    title: str
    wanted: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    who: str
    role: str = ""
    at: datetime = Field(default_factory=now, sa_column=Column(UtcDateTime, nullable=False))
    state: str = Field(default="waiting", index=True)
    steps: int = 0
    done: int = 0
    said: str = ""
    process: int | None = None
    number: str = Field(default="", index=True)
    pages: int = 0
    revisions: dict[str, int] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    sha256: str = ""
    data: bytes | None = Field(default=None, sa_column=Column(LargeBinary))


class ColumnMapping(SQLModel, table=True):
    """How the columns of a file with these headings, from this instrument, were matched and read, for the next one."""

    __tablename__ = "column_mapping"
    __table_args__ = (UniqueConstraint("method", "headings", "instrument"),)
    id: int | None = Field(default=None, primary_key=True)
    method: str
    headings: str
    instrument: str = ""
    target: str
    mapping: list[str] = Field(sa_column=Column(JSON, nullable=False))
    how: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
