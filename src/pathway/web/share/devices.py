"""The devices that may come in, each known by its cookie, its address and its browser. Kept beside the data."""

import hashlib
import hmac
import os
import threading
from datetime import UTC, datetime
from pathlib import Path
from secrets import token_urlsafe

from pydantic import BaseModel, ConfigDict, ValidationError

from pathway.errors import NotFound

SEEN_EVERY = 60.0  # a last visit is written down so often [s]
MOST_DEVICES = 20
_LONG = 60  # letters of a name


class Device(BaseModel):
    """One device."""

    model_config = ConfigDict(frozen=True)

    id: str
    name: str
    token: str  # its hash
    address: str
    agent: str  # the hash of what its browser calls itself
    since: datetime
    seen: datetime


class _Kept(BaseModel):
    devices: list[Device] = []


class Devices:
    """Knows devices again."""

    def __init__(self, folder: Path) -> None:
        self._file, self._lock = folder / "devices.json", threading.Lock()
        self._devices = {device.id: device for device in self._read()}

    def _read(self) -> list[Device]:
        try:
            return _Kept.model_validate_json(self._file.read_bytes()).devices
        except (OSError, ValidationError):  # none yet; a file that cannot be read lets nobody in
            return []

    @property
    def all(self) -> list[Device]:
        """Return the devices, the last seen first."""
        return sorted(self._devices.values(), key=lambda device: device.seen, reverse=True)

    def __contains__(self, id_: str) -> bool:
        """Whether a device is still let in."""
        return id_ in self._devices

    def add(self, name: str, address: str, agent: str) -> str:
        """Let a device in; return what its cookie says."""
        id_, token, now = token_urlsafe(9), token_urlsafe(32), datetime.now(UTC)
        device = Device(
            id=id_,
            name=" ".join(name.split())[:_LONG] or "A device",
            token=_hash(token),
            address=address,
            agent=_hash(agent),
            since=now,
            seen=now,
        )
        with self._lock:
            kept = self.all[: MOST_DEVICES - 1]
            self._devices = {one.id: one for one in (device, *kept)}
            self._write()
        return f"{id_}.{token}"

    def known(self, cookie: str, address: str, agent: str) -> Device | None:
        """Return the device that a cookie is of, if it comes from where and by what it was given to."""
        id_, _, token = cookie.partition(".")
        device = self._devices.get(id_)
        if device is None or not hmac.compare_digest(device.token, _hash(token)):
            return None
        if device.address != address or not hmac.compare_digest(device.agent, _hash(agent)):
            return None
        now = datetime.now(UTC)
        if (now - device.seen).total_seconds() > SEEN_EVERY:
            with self._lock:
                if id_ in self._devices:
                    self._devices[id_] = device.model_copy(update={"seen": now})
                    self._write()
        return device

    def revoke(self, id_: str) -> None:
        """Let a device in no longer.

        Raises:
            NotFound: there is none.
        """
        with self._lock:
            if self._devices.pop(id_, None) is None:
                raise NotFound("This device is not let in any more", advice="Reload the page.")
            self._write()

    def _write(self) -> None:
        self._file.parent.mkdir(parents=True, exist_ok=True)
        fresh = self._file.with_suffix(".new")
        fresh.write_text(_Kept(devices=list(self._devices.values())).model_dump_json(indent=1), encoding="utf-8")
        os.chmod(fresh, 0o600)
        fresh.replace(self._file)


def _hash(text: str) -> str:
    return hashlib.sha256(text.encode("utf-8", "replace")).hexdigest()
