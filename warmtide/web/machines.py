"""The owner's page, and what is measured."""

from fastapi import APIRouter, Response
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, Gauge, generate_latest
from sqlalchemy.exc import SQLAlchemyError

from ..core.job.engine import engines
from ..core.model.recipe import ENGINE_VERSION
from ..work import machines as seen
from .choices import engine_view
from .program_schemas import FaultView, MachinesView, WorkerView
from .services import Session, Shared

router = APIRouter(tags=["program"])


@router.get("/machines")
async def read_machines(session: Session, shared: Shared) -> MachinesView:
    """Workers by machine, what each does and how fast, what waits and what failed."""
    found = await seen.machines(session)
    return MachinesView(
        engine=ENGINE_VERSION, waiting=found.waiting, running=found.running, done=found.done, pace=round(found.seconds, 2),
        workers=[
            WorkerView(
                host=w.host, pid=w.pid, engine=w.engine, does=w.does, here=found.here(w), busy=w.take_id is not None, done=w.done,
                failed=w.failed, pace=round(w.seconds / w.done, 2) if w.done else None, since=w.began,
                silent=round(max((found.at - w.seen).total_seconds(), 0), 1),
            )
            for w in found.workers
        ],
        engines=[engine_view(engine) for engine in engines().values()], faults=[FaultView(sentence=f.sentence, takes=f.takes) for f in found.faults],
        store="folder" if shared.store.folder is not None else "bucket",
    )  # fmt: skip


@router.get("/metrics", response_class=Response)
async def metrics(shared: Shared) -> Response:
    """This process's figures, and those of the whole installation, as Prometheus reads them; the latter not while the database is away."""
    try:
        async with shared.database.sessions() as session:
            whole = _installation(await seen.machines(session))
    except (SQLAlchemyError, OSError):
        whole = b""
    return Response(generate_latest() + whole, media_type=CONTENT_TYPE_LATEST)


def _installation(found: seen.Machines) -> bytes:
    registry = CollectorRegistry()
    workers = Gauge(
        "warmtide_workers", "Workers that were heard of just now", ["host", "engine", "does"], registry=registry
    )
    done = Gauge("warmtide_worker_takes", "Takes that workers have done", ["host", "pid", "outcome"], registry=registry)
    waiting = Gauge(
        "warmtide_takes_waiting", "Takes that wait, by the engine they wait for", ["engine"], registry=registry
    )
    for worker in found.workers:
        workers.labels(worker.host, worker.engine, worker.does).inc(int(found.here(worker)))
        done.labels(worker.host, str(worker.pid), "done").set(worker.done)
        done.labels(worker.host, str(worker.pid), "failed").set(worker.failed)
    for engine, count in found.waiting.items():
        waiting.labels(engine).set(count)
    for name, says, value in (
        ("warmtide_takes_running", "Takes that are rendered just now", found.running),
        ("warmtide_takes_last_hour", "Takes that were done in the last hour", found.done),
        ("warmtide_take_seconds", "Seconds that a take of the last hour took in the mean", found.seconds),
    ):
        Gauge(name, says, registry=registry).set(value)
    return generate_latest(registry)
