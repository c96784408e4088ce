"""What every request passes."""

from fastapi.testclient import TestClient


def test_only_a_backup_may_be_large(shelf: TestClient) -> None:
    """A score of forty megabytes is refused before it is read; the way back for a backup is open further."""
    size = {"Content-Length": str(40_000_000)}
    assert shelf.post("/imports", content=b"", headers=size).status_code == 413
    assert shelf.post("/settings/restore", content=b"", headers=size).status_code != 413
    size = {"Content-Length": str(900_000_000)}
    answer = shelf.post("/settings/restore", content=b"", headers=size)
    assert answer.status_code == 413
    assert "up to 500" in answer.text
