"""Bodies, queries and answers of the API as pydantic models; OpenAPI is made from them."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from zygomorph.api.document_shapes import DocumentShape
from zygomorph.api.scene_shapes import SceneMotion
from zygomorph.core.document.edits import Operation
from zygomorph.core.inspect.shards_shown import ShardsShown

Window = Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,80}$")]
Frame = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
Quality = Literal["draft", "final"]


class Strict(BaseModel):
    model_config = ConfigDict(extra="forbid")


class StudyPath(BaseModel):
    study_id: Annotated[str, Field(max_length=40)]


class PiecePath(StudyPath):
    piece_id: Annotated[str, Field(max_length=40)]


class TopologyPath(BaseModel):
    digest: Annotated[str, Field(pattern=r"^[0-9a-f]{24}$")]


class JobPath(BaseModel):
    job_id: Annotated[str, Field(max_length=40)]


class Problem(BaseModel):
    path: str
    message: str


class ErrorBody(BaseModel):
    """What happened, to what, and what helps."""

    message: str
    hint: str = ""
    kind: str = "error"
    problems: list[Problem] = []
    step_id: str | None = None
    path: str | None = None
    mine: Any = None
    theirs: Any = None
    revision: int | None = None


class Failure(BaseModel):
    error: ErrorBody


class Compiling(BaseModel):
    """How much of what is compiled at first is done; both 0 where all was there already."""

    done: int
    total: int


class Health(BaseModel):
    ready: bool
    compiling: Compiling


class StudiesQuery(BaseModel):
    """pictures : whether moving pictures that are missing are drawn now, aside. With each edit of a
    study they would take the processor from the stage"""

    thumbnails: bool = True


class StudySummary(BaseModel):
    """thumbnail_state : null where it was not asked for
    former : address of the picture of an earlier revision, to be shown until this one is drawn
    """

    id: str
    name: str
    note: str
    revision: int
    changed: str
    frames: int
    rate: float
    pieces: int
    thumbnail_state: Literal["ready", "drawing", "failed"] | None
    thumbnail: str
    former: str | None


class ThumbnailQuery(BaseModel):
    """edition : the one that is meant; it never changes, so it is kept by the browser
    still : for readers who want less motion
    former : the newest picture of an earlier edition instead"""

    edition: Annotated[str, Field(max_length=80)] = ""
    still: bool = False
    former: bool = False


class SpecimenPath(BaseModel):
    sort: Literal["form", "step"]
    key: Annotated[str, Field(max_length=40)]


class SpecimenEntry(BaseModel):
    sort: Literal["form", "step"]
    key: str
    thumbnail_state: Literal["ready", "drawing", "failed"]
    address: str


class SpecimenList(BaseModel):
    specimens: list[SpecimenEntry]


class StudyList(BaseModel):
    studies: list[StudySummary]


class Lane(BaseModel):
    """A moving value over the loop; ``path`` is inside its step or piece.

    address : of the value in the study; step : id of what it belongs to, "" for a place
    given : what the document has there: a signal, or one of each quality
    each : whether it may differ from element to element
    samples, last : of the first and of the last element, where they differ
    peaks : waveform of the sound that it follows
    """

    path: str
    address: str
    step: str
    given: Any
    label: str
    unit: str
    signal: str
    each: bool
    samples: list[float]
    last: list[float]
    peaks: list[list[float]]


class StepWords(BaseModel):
    id: str
    title: str
    sentence: str
    where: str
    when: str
    by_time: bool
    lanes: list[Lane]


class PieceMotion(BaseModel):
    """key, final_key : content keys of the piece's frames at draft and final quality
    moves : whether its frames differ, by the mesh or by how it is drawn
    past : whether its frames follow from those before, so that one is sooner seen as it nearly is
        than as it is
    uses : ids of the pieces it depends on, directly or through others
    carriers : addresses of pieces and markers that carry it, or a step or mask layer of it
    places : one column-major 4 x 4 matrix for each frame 0 to F, or a single one
    bases : the same of what carries it; none where nothing does
    looks : each of its looks in words
    held : by the address of a step or mask layer that something carries, the same from where its
        values are to the stage
    """

    id: str
    key: str
    final_key: str
    moves: bool
    past: bool
    uses: list[str]
    carriers: list[str]
    places: list[list[float]]
    bases: list[list[float]]
    held: dict[str, list[list[float]]]
    steps: list[StepWords]
    looks: list[StepWords]
    place_lanes: list[Lane]


class MarkerMotion(BaseModel):
    """A marker over the loop; places and bases as a piece has them."""

    id: str
    lanes: list[Lane]
    places: list[list[float]]
    bases: list[list[float]]


class AudibleSound(BaseModel):
    """A sound that something shown listens to; begin : which second of it is frame 0"""

    name: str
    begin: float


class ScenePart(BaseModel):
    """A light, a camera, the backdrop, the ground or the finish, in words, and what moves it"""

    address: str
    sentence: str
    lanes: list[Lane]


class SceneState(SceneMotion):
    parts: list[ScenePart]


class StudyState(BaseModel):
    """switched : in words, what each address is that a variant switches"""

    id: str
    revision: int
    changed: str
    document: DocumentShape
    motion: list[PieceMotion]
    markers: list[MarkerMotion]
    scene: SceneState
    sounds: list[AudibleSound]
    switched: dict[str, str]
    undo_label: str | None
    redo_label: str | None


class NewStudy(Strict):
    """A new study: from a document, or empty with a form of the given kind."""

    name: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    document: dict[str, Any] | None = None
    form: Annotated[str, Field(max_length=40)] | None = None
    asset: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")] | None = None


class WindowQuery(BaseModel):
    window: Window = "api"


class EditBody(Strict):
    """operations are applied all or none; revision is the one they were made on."""

    window: Window
    revision: Annotated[int, Field(ge=0, le=2**53)]
    label: Annotated[str, Field(max_length=200)] = "Edit"
    operations: Annotated[list[Operation], Field(min_length=1, max_length=500)]


class WindowBody(Strict):
    """clashing : where another window has changed the same since, refuse it, skip the edit for
    good, or go over what the other window did"""

    window: Window
    clashing: Literal["refuse", "skip", "over"] = "refuse"


@cache
def _schema_of(model: type[BaseModel]) -> dict[str, Any]:
    return BaseModel.model_json_schema.__func__(model)  # type: ignore[attr-defined]


class FocusQuery(BaseModel):
    frame: Frame = 0.0
    quality: Quality = "draft"


class FocusTold(BaseModel):
    """distance : from the camera along its axis, metres; found : whether there is something"""

    distance: float
    found: bool


class FrameQuery(BaseModel):
    """key : the content key from the study's motion;
    many : one of many frames that are wanted, as in playing, so that each takes one core only;
    stride : of points without faces and curves send only every so many;
    rest : send the rest shape as well, for what is drawn on it;
    shards : tell shards apart, by colours, or by pulling them apart as well"""

    key: Annotated[str, Field(max_length=64)]
    frame: Frame = 0.0
    quality: Quality = "draft"
    mask_of: Annotated[str, Field(max_length=40)] | None = None
    exact: bool = False
    many: bool = False
    stride: Annotated[int, Field(ge=1, le=1000)] = 1
    rest: bool = False
    shards: ShardsShown = "as they are"

    @classmethod
    def model_json_schema(cls, *arguments: Any, **named: Any) -> dict[str, Any]:
        # The web framework asks for the schema at every request; making it takes 2 ms.
        if arguments or named:
            return super().model_json_schema(*arguments, **named)
        return _schema_of(cls)


class PreviewBody(Strict):
    """A frame with changes that are not stored. Of one window's requests only the one with the
    highest sequence is answered."""

    window: Window
    sequence: Annotated[int, Field(ge=0, le=2**53)]
    operations: Annotated[list[Operation], Field(max_length=500)] = []
    frame: Frame = 0.0
    quality: Quality = "draft"
    mask_of: Annotated[str, Field(max_length=40)] | None = None
    exact: bool = False
    stride: Annotated[int, Field(ge=1, le=1000)] = 1
    many: bool = False
    shards: ShardsShown = "as they are"


class ScenePreviewBody(Strict):
    operations: Annotated[list[Operation], Field(max_length=500)] = []
    frame: Frame = 0.0


class SuggestBody(Strict):
    """Values that suit what comes out of the step ``after``, for a new step or layer."""

    sort: Literal["step", "layer"]
    key: Annotated[str, Field(max_length=40)]
    after: Annotated[str, Field(max_length=40)] | None = None


class Suggestion(BaseModel):
    values: dict[str, Any]


class FormulaBody(Strict):
    """A formula that is being written: what would it give at the step's points?

    layer : of the step's mask, where the formula is one of its layers
    """

    step: Annotated[str, Field(max_length=40)]
    layer: Annotated[str, Field(max_length=40)] | None = None
    text: Annotated[str, Field(max_length=4000)]
    frame: Frame = 0.0
    quality: Quality = "draft"


class FormulaProblem(BaseModel):
    """column, length : the place of the mistake, in characters from 0"""

    message: str
    hint: str
    column: int
    length: int


class FormulaPlot(BaseModel):
    """low, high : least and greatest of runs of neighbouring points; count : points; undefined :
    results that became 0"""

    low: list[float]
    high: list[float]
    count: int
    undefined: int


class FormulaState(BaseModel):
    problem: FormulaProblem | None = None
    plot: FormulaPlot | None = None


class SeamState(BaseModel):
    piece: str
    position_m: float | None
    position_relative: float | None
    velocity_relative: float | None
    point: int | None
    state: str
    note: str
    velocity_elsewhere: float | None = None
    place: list[float] | None


class SeamList(BaseModel):
    seams: list[SeamState]


class HistoryEntry(BaseModel):
    revision: int
    kind: str
    label: str
    window: str
    made: str
    undone: bool


class History(BaseModel):
    edits: list[HistoryEntry]
