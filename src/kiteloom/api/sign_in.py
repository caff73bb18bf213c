"""Signing in and out, PINs, roles, and inspectors' links. Thin."""

from __future__ import annotations

from typing import Any, cast

from flask import Response, current_app, make_response
from pydantic import BaseModel, Field

from kiteloom.api.house import Routes, now, open_store, store
from kiteloom.api.problems import problem
from kiteloom.api.who import forgotten, keeps, there, token
from kiteloom.views import sign_in as views
from kiteloom.workshop.base import guests, sign_in
from kiteloom.workshop.base.saved import Kept

bp = Routes("sign_in", "Signing in")


class ComeByLink(BaseModel):
    """The last part of an inspector's link."""

    link: str = Field(max_length=200)


def _view(present: sign_in.Present | None) -> views.SignInView:
    with store().reading() as uow:
        return views.sign_in_view(uow, present)


def _signed_in(kept: str) -> Any:
    """The answer to who was let in, which the tablet keeps."""
    with store().reading() as uow:
        present = sign_in.present(uow, kept, now())
    assert present is not None
    return keeps(make_response(_as_json(_view(present))), kept)


def _as_json(view: views.SignInView) -> Response:
    return cast(Response, current_app.json.response(view))


@bp.get("/sign-in")
@bp.gives(views.SignInView)
def read_sign_in() -> views.SignInView:
    """Whether people sign in here, and who does so at this tablet."""
    return _view(there())


@bp.post("/sign-in")
@bp.takes(sign_in.SignInAs)
@bp.gives(views.SignInView)
def come_in(order: sign_in.SignInAs) -> Any:
    """By name and PIN or passphrase."""
    return _signed_in(sign_in.sign_in(open_store(), order, now()))


@bp.post("/sign-in/link")
@bp.takes(ComeByLink)
@bp.gives(views.SignInView)
def come_by_link(order: ComeByLink) -> Any:
    """By an inspector's link."""
    return _signed_in(sign_in.come_by_link(open_store(), order.link, now()))


@bp.post("/sign-out")
@bp.gives(views.SignInView)
def go_out() -> Any:
    """This tablet is nobody's."""
    with open_store().writing() as uow:
        sign_in.sign_out(uow, token())
    return forgotten(make_response(_as_json(_view(None))))


@bp.post("/people/<person_id>/pin")
@bp.takes(sign_in.GivePin)
@bp.gives(views.SignInView)
def give_pin(person_id: str, order: sign_in.GivePin) -> Any:
    """Give somebody a PIN or passphrase. Who gives the shop its first is signed in with it."""
    if person_id != order.person_id:
        return problem(422, "person_id is another in the address than in the body.")
    present = there()
    sign_in.give_pin(open_store(), order, present, now())
    if present is None:
        return _signed_in(sign_in.sign_in(open_store(), sign_in.SignInAs(order.person_id, order.secret), now()))
    return _view(present)


@bp.post("/people/<person_id>/pin/away")
@bp.gives(Kept)
def take_pin(person_id: str) -> Kept:
    """Take somebody's PIN away."""
    with store().writing() as uow:
        sign_in.take_pin(uow, person_id, here_only=current_app.config["HERE_ONLY"])
    return Kept(person_id)


@bp.post("/people/<person_id>/role")
@bp.takes(sign_in.GiveRole)
@bp.gives(Kept)
def give_role(person_id: str, order: sign_in.GiveRole) -> Kept:
    """Say what somebody may do here."""
    with store().writing() as uow:
        sign_in.give_role(uow, person_id, order, now())
    return Kept(person_id)


@bp.post("/guests")
@bp.takes(guests.InviteGuest)
@bp.gives(views.InvitedView, 201)
def invite(order: guests.InviteGuest) -> views.InvitedView:
    """Make a link for an inspector; it is said once."""
    with store().writing() as uow:
        link = guests.invite(uow, order, now())
    with store().reading() as uow:
        guest = next(guest for guest in views.guests_view(uow, now()) if guest.id == order.id)
    return views.InvitedView(guest, link)


@bp.post("/guests/<guest_id>/end")
@bp.gives(Kept)
def end_link(guest_id: str) -> Kept:
    """An inspector's link ends now."""
    with store().writing() as uow:
        guests.end_link(uow, guest_id, now())
    return Kept(guest_id)
