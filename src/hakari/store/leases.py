"""Leases: of several servers on one database, which of them does a thing; another may when it has not said so for a while."""

from __future__ import annotations

import logging
import uuid
from datetime import timedelta

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session, sessionmaker

from hakari.store.models import Lease

log = logging.getLogger(__name__)


class Leases:
    """The leases of one server. A data folder's own database has but one server, which has them all."""

    def __init__(self, sessions: sessionmaker[Session], shared: bool) -> None:
        self._sessions, self._shared = sessions, shared
        self.holder = uuid.uuid4().hex

    def take(self, name: str, for_s: float) -> bool:
        """Take a lease that is free or has run out, or prolong one's own; whether it is held now."""
        if not self._shared:
            return True
        now = func.clock_timestamp()
        until = now + timedelta(seconds=for_s)
        asked = insert(Lease).values(name=name, holder=self.holder, until=until)
        taken = asked.on_conflict_do_update(
            index_elements=[Lease.name], set_={"holder": self.holder, "until": until},
            where=(Lease.holder == self.holder) | (Lease.until < now),
        ).returning(Lease.holder)  # fmt: skip
        try:
            with self._sessions.begin() as session:
                return session.scalar(taken) is not None
        except OperationalError as error:
            # Another took it at the same moment, or the database is away: whoever cannot ask does not hold it.
            log.info("lease %s: %s", name, error)
            return False

    def holds(self, session: Session, name: str) -> bool:
        """Whether a lease is one's own, as part of a transaction: what is written in it is, or another took over."""
        if not self._shared:
            return True
        held = select(Lease.name).where(
            Lease.name == name, Lease.holder == self.holder, Lease.until >= func.clock_timestamp()
        )
        return session.scalar(held) is not None

    def is_held(self, session: Session, name: str) -> bool:
        """Whether any server holds a lease."""
        held = select(Lease.name).where(Lease.name == name, Lease.until >= func.clock_timestamp())
        return self._shared and session.scalar(held) is not None

    def release(self, name: str) -> None:
        """Give a lease back."""
        if self._shared:
            with self._sessions.begin() as session:
                session.execute(delete(Lease).where(Lease.name == name, Lease.holder == self.holder))
