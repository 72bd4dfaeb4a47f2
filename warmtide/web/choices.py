"""What the controls offer, and how the program is."""

from fastapi import APIRouter
from sqlalchemy import func, select

from .. import __version__
from ..core.export.registry import exporters
from ..core.job.engine import Engine, engines
from ..core.looks.registry import by_category
from ..core.model.recipe import BUILT_IN, ENGINE_VERSION, Recipe
from ..core.model.sampling import TITLES
from ..core.model.sweep import TAKES_LIMIT
from ..core.pictures.image import FILE_LIMIT
from ..core.readings.registry import readings
from ..core.understanding.kind import KINDS
from ..engines.client import RemoteEngine
from ..records.models import Take, TakeState
from ..work.disk import room
from ..work.learned import all_learned
from .looks import learned_view
from .program_schemas import (
    Choices,
    DiskView,
    EngineControlView,
    EngineLookView,
    EngineView,
    ExportView,
    Health,
    LookView,
    ReadingView,
    SamplerView,
    StudyDisk,
)
from .services import Session, Shared

router = APIRouter(tags=["program"])


def engine_view(engine: Engine) -> EngineView:
    """What is told of an engine; the looks of the built-in one stand elsewhere, with their families."""
    about = engine.about
    own = engine.name == BUILT_IN
    return EngineView(
        name=about.name, title=about.title, version=about.version, built_in=own, repeatable=about.repeatable, sizes=list(about.sizes),
        answers=engine.answers if isinstance(engine, RemoteEngine) else True, words=about.words, regions=about.regions, at_once=about.at_once,
        looks=[] if own else [EngineLookView(name=k.name, title=k.title, description=k.description) for k in about.looks],
        samplers=[SamplerView(name=s.name, title=s.title) for s in about.samplers], holds=list(about.holds),
        controls=[EngineControlView(name=k.name, low=k.low, high=k.high) for k in about.controls],
    )  # fmt: skip


@router.get("/choices")
async def choices(session: Session) -> Choices:
    return Choices(
        looks=[learned_view(row) for row in await all_learned(session)]
        + [
            LookView(
                name=look.name, title=look.title, category=look.category, kinds=list(look.kinds),
                description=look.description, strengths=list(look.strengths),
            )
            for look in by_category()
        ],
        samplers=[SamplerView(name=name, title=title) for name, title in TITLES.items()],
        readings=[ReadingView(name=kind.name, title=kind.title, says=kind.says) for kind in readings()],
        exports=[ExportView(name=e.name, title=e.title, says=e.says) for e in exporters().values()],
        kinds=list(KINDS),
        engines=[engine_view(engine) for engine in engines().values()],
        takes_limit=TAKES_LIMIT,
        file_limit=FILE_LIMIT,
        defaults=Recipe(),
    )  # fmt: skip


@router.get("/alive", include_in_schema=False)
async def alive() -> dict[str, str]:
    """That the server answers; asks nothing of the database."""
    return {"version": __version__}


@router.get("/health")
async def health(session: Session, shared: Shared) -> Health:
    waiting = await session.scalar(select(func.count()).where(Take.state.in_((TakeState.QUEUED, TakeState.RUNNING))))
    return Health(version=__version__, engine=ENGINE_VERSION, workers=shared.workers, queued=waiting or 0)


@router.get("/disk")
async def disk(session: Session, shared: Shared) -> DiskView:
    """How much room there is, and what each study takes; counted anew at most every 20 s."""
    found = room(shared.store)
    pictures, studies = await shared.usage.of_studies(session)
    return DiskView(
        total=found and found.total, free=found and found.free, pictures=pictures,
        studies=[StudyDisk(study_id=study, bytes=size) for study, size in studies.items()],
    )  # fmt: skip
