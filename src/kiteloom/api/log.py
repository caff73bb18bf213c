"""What happens: work, batches and what became of them, ticks, readings, photographs. Thin."""

from __future__ import annotations

from flask import Response, request
from pydantic import BaseModel

from kiteloom.api.house import Routes, file, now, store
from kiteloom.views import run
from kiteloom.views.bench import batches, trail
from kiteloom.views.cure import release
from kiteloom.views.part import deviations
from kiteloom.workshop.air.beside import put_back
from kiteloom.workshop.base.saved import Counted, Kept, OnlyId
from kiteloom.workshop.base.taken_back import TakeBack, take_it_back
from kiteloom.workshop.log import batch_notes, photos
from kiteloom.workshop.log import deviations as deviation_log
from kiteloom.workshop.log.batches import CorrectBatch, PourBatch, correct_batch, keep_batch
from kiteloom.workshop.log.deviations import Decide, FoundWrong
from kiteloom.workshop.log.ticks import NoteTicks, note_ticks
from kiteloom.workshop.log.witness import ReadWitness, read_witness
from kiteloom.workshop.log.work import Noted, NoteWork, note_work, take_back

bp = Routes("log", "Log")


@bp.post("/work")
@bp.takes(NoteWork)
@bp.gives(Noted, 201)
def work(order: NoteWork) -> Noted:
    """Note work; the plan slides over it at once."""
    with store().writing() as uow:
        return note_work(uow, order, now())


@bp.post("/work/<work_id>/undo")
@bp.takes(OnlyId)
@bp.gives(Noted, 201)
def undo(work_id: str, order: OnlyId) -> Noted:
    """Take a note back: a new row that names it."""
    with store().writing() as uow:
        return take_back(uow, work_id, order.id, now())


@bp.post("/taken-back")
@bp.takes(TakeBack)
@bp.gives(Kept, 201)
def take_something_back(order: TakeBack) -> Kept:
    """Let a reading, a typed temperature, an outlook or a file not count any more; it stays with its trace."""
    with store().writing() as uow:
        done = take_it_back(uow, order, now())
        if order.what == "file":
            put_back(uow, order.of_id)
        return done


@bp.post("/batches")
@bp.takes(PourBatch)
@bp.gives(batches.BatchView, 201)
def keep(order: PourBatch) -> batches.BatchView:
    """Keep a cup as a batch on its part."""
    with store().writing() as uow:
        keep_batch(uow, order, now())
    with store().reading() as uow:
        return batches.batch_view(uow, order.id)


@bp.get("/batches/<batch_id>")
@bp.gives(trail.Trail)
def read_batch(batch_id: str) -> trail.Trail:
    """One batch: where it went, what is left, where else it could go."""
    with store().reading() as uow:
        return trail.trail(uow, batch_id, now())


@bp.post("/batches/<batch_id>/correction")
@bp.takes(CorrectBatch)
@bp.gives(batches.BatchView, 201)
def correct(batch_id: str, order: CorrectBatch) -> batches.BatchView:
    """Correct a batch: a new row that names the old one."""
    with store().writing() as uow:
        correct_batch(uow, batch_id, order, now())
    with store().reading() as uow:
        return batches.batch_view(uow, order.id)


@bp.post("/batches/<batch_id>/notes")
@bp.takes(batch_notes.NoteBatch)
@bp.gives(trail.Trail, 201)
def note_batch(batch_id: str, order: batch_notes.NoteBatch) -> trail.Trail:
    """Note that it went on a part too, was used up, or is bad."""
    with store().writing() as uow:
        batch_notes.note_batch(uow, batch_id, order, now())
    with store().reading() as uow:
        return trail.trail(uow, batch_id, now())


@bp.put("/batches/<batch_id>/photos/<photo_id>")
@bp.gives(Kept, 201)
def keep_photo(batch_id: str, photo_id: str) -> Kept:
    """Keep a photograph of a batch; its bytes are the body."""
    shot = photos.looked_at(request.get_data())
    with store().writing() as uow:
        return Kept(photos.keep_photo(uow, "batch", batch_id, photo_id, shot, now()))


class Size(BaseModel):
    """How large a photograph is wanted."""

    small: bool = False


@bp.get("/photos/<photo_id>")
@bp.asks(Size)
def photo(photo_id: str, asked: Size) -> Response:
    """A photograph, or what was spoken into a note; small, to be shown among others."""
    with store().reading() as uow:
        media, data = photos.photo(uow, photo_id, small=asked.small)
    return Response(data, content_type=media, headers={"Cache-Control": "private, max-age=31536000, immutable"})


@bp.post("/witness")
@bp.takes(ReadWitness)
@bp.gives(release.ReleaseView, 201)
def witness(order: ReadWitness) -> release.ReleaseView:
    """Keep a reading; it releases what the clock only predicts."""
    with store().writing() as uow:
        where = read_witness(uow, order, now())
    with store().reading() as uow:
        found = release.release_view(uow, *where)
    assert found is not None
    return found


@bp.post("/deviations")
@bp.takes(FoundWrong)
@bp.gives(deviations.DeviationsView, 201)
def find_wrong(order: FoundWrong) -> deviations.DeviationsView:
    """Write down what was found wrong on a part."""
    with store().writing() as uow:
        deviation_log.find_wrong(uow, order, now())
    with store().reading() as uow:
        return deviations.deviations_view(uow, order.part_id, now())


@bp.get("/parts/<part_id>/deviations")
@bp.gives(deviations.DeviationsView)
def read_deviations(part_id: str) -> deviations.DeviationsView:
    """What was found wrong on a part, and how each stands."""
    with store().reading() as uow:
        return deviations.deviations_view(uow, part_id, now())


@bp.post("/deviations/<deviation_id>/decisions")
@bp.takes(Decide)
@bp.gives(Kept, 201)
def decide(deviation_id: str, order: Decide) -> Kept:
    """Accept it, have it mended, scrap the part, or open it again."""
    with store().writing() as uow:
        return deviation_log.decide(uow, deviation_id, order, now())


@bp.put("/deviations/<deviation_id>/photos/<photo_id>")
@bp.gives(Kept, 201)
def keep_deviation_photo(deviation_id: str, photo_id: str) -> Kept:
    """Keep a photograph of it; its bytes are the body."""
    shot = photos.looked_at(request.get_data())
    with store().writing() as uow:
        return Kept(photos.keep_photo(uow, "deviation", deviation_id, photo_id, shot, now()))


class OfStep(BaseModel):
    """Which step."""

    part_id: str
    step_key: str


@bp.get("/run-sheet")
@bp.asks(OfStep)
@bp.gives(run.RunSheet)
def read_run_sheet(asked: OfStep) -> run.RunSheet:
    """A step's instructions, and what was ticked."""
    with store().reading() as uow:
        return run.run_sheet_of(uow, asked.part_id, asked.step_key, now())


@bp.get("/run-sheet.pdf")
@bp.asks(OfStep)
def print_run_sheet(asked: OfStep) -> Response:
    """The same on paper."""
    with store().reading() as uow:
        page = run.run_sheet_pdf(uow, asked.part_id, asked.step_key, now())
    return file(page, "application/pdf", "run-sheet.pdf")


@bp.post("/ticks")
@bp.takes(NoteTicks)
@bp.gives(Counted, 201)
def tick(order: NoteTicks) -> Counted:
    """Keep ticks; sent twice they count once."""
    with store().writing() as uow:
        return note_ticks(uow, order, now())
