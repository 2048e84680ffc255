"""When cloth is short: what may be given up, the mildest way that fits, how little cloth would do, the largest size that fits."""

from dataclasses import replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.concede.offer import HemDepths, offers
from rowanseed.core.concede.search import Conceded, ConcedeRequest, Trial, request_with
from rowanseed.core.concede.sizes import SizesFound, SizesRequest
from rowanseed.core.lay.engine import SPREAD_WORDS
from rowanseed.core.make.concessions import HEM_KINDS, KINDS, Concession, describe_concession
from rowanseed.core.make.lay_requests import fingerprint
from rowanseed.core.make.pieces import altered_pattern
from rowanseed.core.pattern.model import Role
from rowanseed.jobs.pool import Job
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_role import WorkedRole
from rowanseed.store import db, makes, patterns
from rowanseed.web.deps import Home, Household, Jobs, now, page, see_other
from rowanseed.web.forms import Form, read_form, whole_number

router = APIRouter(prefix="/makes/{make_id}/lay/short", include_in_schema=False)
ASKS = ("mildest", "least", "sizes")
NOT_AT_FIRST = ("shorten", "view", "sleeve-seam")  # offered, but ticked only by the user
HEM_FIELDS = ("hem", "shallower", "shorter")


def _role(view: WorkedMake, name: str) -> WorkedRole:
    role = view.role(name) if name else next(iter(view.roles), None)
    if role is None or role.request is None or role.cloth is None:
        raise db.NotFound("There is nothing to lay here yet: choose the size and the cloth first.")
    return role


def _hems(form: Form) -> HemDepths:
    depths = [form.length(name, most_mm=500) for name in HEM_FIELDS]
    return HemDepths(*(d.mm if d else 0.0 for d in depths))


def _offers(view: WorkedMake, role: WorkedRole, hems: HemDepths) -> list[Concession]:
    """What the pieces as they are now allow; what is conceded already is not offered again."""
    assert role.request is not None
    taken = {c.kind for c in view.make.plan.conceded if c.kind in HEM_KINDS}
    found = offers(view.pattern, view.make.view, role.role, view.sizes[0], role.request.cloth, hems)
    return [c for c in found if c.kind not in taken]


def code_of(concession: Concession) -> str:
    """A concession as the form's tick boxes name it."""
    return f"{concession.kind}:{','.join(concession.pieces) or concession.view}"


def _context(home: Household, view: WorkedMake, role: WorkedRole, form: Form, job: Job | None) -> dict[str, object]:
    offered = _offers(view, role, _hems(form))
    names = {p.number: p.name for p in (*view.fitted.pieces, *view.pattern.pieces)}
    done = job.best if job is not None else None
    allowed = {code_of(c) for c in _allowed_by(job)} if job is not None else None
    return {
        "view": view,
        "role": role,
        "form": form,
        "job": job,
        "found": done if isinstance(done, Conceded) else None,
        "sizes": done if isinstance(done, SizesFound) else None,
        "offered": [(c, code_of(c), describe_concession(c, names)) for c in offered if c.kind not in HEM_KINDS],
        "ticked": {code_of(c) for c in offered if c.kind not in NOT_AT_FIRST} if allowed is None else allowed,
        "kinds": KINDS,
        "say_concession": lambda c: describe_concession(c, names),
        "spread_words": SPREAD_WORDS,
        "one_garment": len(view.sizes) == 1,
        "trials": trials_of(done) if isinstance(done, Conceded) else [],
    }


def _allowed_by(job: Job) -> tuple[Concession, ...]:
    task = job.task
    if isinstance(task, SizesRequest):
        return task.asked.allowed
    return task.allowed if isinstance(task, ConcedeRequest) else ()


def trials_of(found: Conceded) -> list[Trial]:
    """Every trial that may be accepted, in a fixed order: the proposal and the steps, each once."""
    every = [t for t in (found.proposal, *found.steps) if t is not None and t.concessions]
    return list(dict.fromkeys(every))


@router.get("", name="short")
def show(request: Request, home: Home, jobs: Jobs, make_id: int, role: str = "", job: int = 0) -> Response:
    """What may be given up, and what was found."""
    view = WorkedMake(home.conn, make_id, home.settings)
    form = Form(dict(request.query_params), home.unit)
    chosen = _role(view, role)
    return page(request, home, "short/show.html", _context(home, view, chosen, form, jobs.get(job)))


@router.post("/start", name="short_start")
async def start(request: Request, home: Home, jobs: Jobs, make_id: int) -> Response:
    """Begin to look for the mildest set, the least length or the largest size."""
    form = await read_form(request, home.unit)
    ticked = [str(v) for v in (await request.form()).getlist("allow")]
    view = WorkedMake(home.conn, make_id, home.settings)
    role = _role(view, form.typed.get("role", ""))
    ask = form.choice("ask", ASKS)
    # A length typed for a hem is the permission; the rest is ticked.
    allowed = tuple(c for c in _offers(view, role, _hems(form)) if c.kind in HEM_KINDS or code_of(c) in ticked)
    if not allowed and ask != "sizes":
        form.errors["allow"] = "Tick at least one thing that may be given up, or say by how much a hem may change."
    if not form.sound:
        return page(request, home, "short/show.html", _context(home, view, role, form, None), 422)
    assert role.cloth is not None
    cloth = role.cloth.cloth if ask != "least" else replace(role.cloth.cloth, length=None)
    asked = ConcedeRequest(
        view.fitted,
        view.make.view,
        role.role,
        tuple(view.sizes),
        cloth,
        view.make.plan,
        allowed if ask != "sizes" else (),
    )
    task = _every_size(home, view, asked) if ask == "sizes" else asked
    job = jobs.submit(f"{request.app.state.database}:{make_id}:{role.role}:short", task)
    typed = "".join(f"&{name}={form.typed[name]}" for name in HEM_FIELDS if form.typed.get(name))
    return see_other(request, f"/makes/{make_id}/lay/short?role={role.role}&job={job.id}{typed}")


def _every_size(home: Household, view: WorkedMake, asked: ConcedeRequest) -> SizesRequest:
    """All sizes of the pattern that are drawn, altered as this make's is."""
    pattern = patterns.pattern(home.conn, view.make.pattern_id).pattern
    drawn = [s for s in pattern.size_names() if any(s in p.shapes for p in pattern.pieces)]
    altered, _ = altered_pattern(pattern, drawn, view.make.plan.alterations)
    return SizesRequest(replace(asked, pattern=altered), tuple(drawn))


@router.get("/progress/{job_id}", name="short_progress")
def progress(request: Request, home: Home, jobs: Jobs, make_id: int, job_id: int, role: str) -> Response:
    """What is known so far."""
    return _part(request, home, make_id, role, jobs.get(job_id))


@router.post("/stop/{job_id}", name="short_stop")
def stop(request: Request, home: Home, jobs: Jobs, make_id: int, job_id: int, role: str) -> Response:
    """Stop looking; what was found so far is kept."""
    job = jobs.get(job_id)
    if job is not None:
        jobs.stop(job_id)
        job.finished.wait(2.0)
    if "HX-Request" not in request.headers:
        return see_other(request, f"/makes/{make_id}/lay/short?role={role}&job={job_id}")
    return _part(request, home, make_id, role, job)


def _part(request: Request, home: Household, make_id: int, role: str, job: Job | None) -> Response:
    view = WorkedMake(home.conn, make_id, home.settings)
    context = _context(home, view, _role(view, role), Form({}, home.unit), job)
    return page(request, home, "short/_found.html", context)


@router.post("/accept", name="short_accept")
async def accept(request: Request, home: Home, jobs: Jobs, make_id: int) -> Response:
    """Give up what a trial says: the pieces change, the sewing steps follow, and its lay is kept."""
    form = await read_form(request)
    job = jobs.get(whole_number(form.typed.get("job", "")) or 0)
    number = whole_number(form.typed.get("number", ""))
    found = job.best if job is not None else None
    if job is None or not isinstance(found, Conceded) or not isinstance(job.task, ConcedeRequest):
        raise db.NotFound("What was found is no longer remembered. Look for it again.")
    trials = trials_of(found)
    if number is None or number >= len(trials):
        raise db.NotFound("There is no such way. Look for it again.")
    task, trial = job.task, trials[number]
    view = WorkedMake(home.conn, make_id, home.settings)
    if task.plan.conceded != view.make.plan.conceded or task.view != view.make.view:
        raise db.ChangedMeanwhile("What is given up changed since this was worked out. Look for it again.")
    plan = replace(view.make.plan, conceded=(*view.make.plan.conceded, *_kept(trial)), locked={}, order=())
    asked = request_with(task, trial.concessions)
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.opened(view.make.version), plan)
        instead = next((c.view for c in trial.concessions if c.kind == "view"), "")
        if instead:
            makes.put_view(home.conn, make_id, instead)
        if found.lay is not None and found.proposal == trial and asked is not None:
            makes.put_lay(home.conn, make_id, task.role, fingerprint(asked), found.lay, now())
    return see_other(request, f"/makes/{make_id}/lay?role={task.role}")


def _kept(trial: Trial) -> tuple[Concession, ...]:
    """What of a trial is remembered beside the make's view."""
    return tuple(c for c in trial.concessions if c.kind != "view")


@router.post("/back", name="short_back")
async def back(request: Request, home: Home, make_id: int) -> Response:
    """Take a concession back."""
    form = await read_form(request)
    make = makes.make(home.conn, make_id)
    number = whole_number(form.typed.get("number", ""))
    if number is None or number >= len(make.plan.conceded):
        raise db.NotFound("This is not conceded any more.")
    kept = tuple(c for k, c in enumerate(make.plan.conceded) if k != number)
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.version(), replace(make.plan, conceded=kept, order=()))
    return see_other(request, f"/makes/{make_id}/lay?role={form.typed.get('role', '')}")


@router.post("/elsewhere", name="short_elsewhere")
async def elsewhere(request: Request, home: Home, make_id: int) -> Response:
    """Take small pieces from an offcut, whether the cloth is short or not."""
    form = await read_form(request)
    numbers = [str(v) for v in (await request.form()).getlist("piece")]
    view = WorkedMake(home.conn, make_id, home.settings)
    role: Role = _role(view, form.typed.get("role", "")).role
    there = {p.number for p in view.pattern.pieces_of(view.make.view, role)}
    chosen = tuple(Concession("elsewhere", (n,)) for n in numbers if n in there)
    if not chosen or len(chosen) == len(there):
        form.errors["piece"] = "Tick some of the pieces, not all of them."
        return page(request, home, "short/show.html", _context(home, view, _role(view, role), form, None), 422)
    plan = replace(view.make.plan, conceded=(*view.make.plan.conceded, *chosen))
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.opened(view.make.version), plan)
    return see_other(request, f"/makes/{make_id}/cloth#role-offcut")
