"""An object store for tests: moto's, which speaks S3 over HTTP and keeps everything in memory."""

from __future__ import annotations

import logging
import socket
from typing import Any

import boto3
from moto.server import ThreadedMotoServer

BUCKET, FOLDER = "saltmarsh-films", "steading"
KEYS = {
    "AWS_ACCESS_KEY_ID": "wren",
    "AWS_SECRET_ACCESS_KEY": "bell-rope-and-barley",
    "AWS_DEFAULT_REGION": "us-east-1",
}


class ObjectStore:
    """One bucket, empty at first. While it is down nobody answers at its address."""

    def __init__(self) -> None:
        logging.getLogger("werkzeug").setLevel(logging.ERROR)
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self._port = int(probe.getsockname()[1])
        self._server: ThreadedMotoServer | None = None
        self.up()
        self._client = boto3.client(
            "s3",
            endpoint_url=self.endpoint,
            aws_access_key_id=KEYS["AWS_ACCESS_KEY_ID"],
            aws_secret_access_key=KEYS["AWS_SECRET_ACCESS_KEY"],
            region_name=KEYS["AWS_DEFAULT_REGION"],
        )
        self._client.create_bucket(Bucket=BUCKET)
        # What it keeps belongs to the process: another one's may be there still.
        self.empty()

    @property
    def endpoint(self) -> str:
        return f"http://127.0.0.1:{self._port}"

    @property
    def environment(self) -> dict[str, str]:
        """What an installation is told."""
        address = f"s3://{BUCKET}/{FOLDER}"
        return {"FREQUENS_FILMS": address, "FREQUENS_FILMS_ENDPOINT": self.endpoint, **KEYS}

    def up(self) -> None:
        self._server = ThreadedMotoServer("127.0.0.1", self._port, verbose=False)
        self._server.start()

    def down(self) -> None:
        if self._server is not None:
            self._server.stop()
            self._server = None

    def files(self) -> dict[str, bytes]:
        """Everything in it by its whole name."""
        names = [one["Key"] for one in self._listed()]
        return {name: self._got(name) for name in names}

    def fill(self, files: dict[str, bytes]) -> None:
        """Put back what `files` gave."""
        for name, body in files.items():
            self._client.put_object(Bucket=BUCKET, Key=name, Body=body)

    def empty(self) -> None:
        for one in self._listed():
            self._client.delete_object(Bucket=BUCKET, Key=one["Key"])

    def _listed(self) -> list[dict[str, Any]]:
        return list(self._client.list_objects_v2(Bucket=BUCKET).get("Contents", []))

    def _got(self, name: str) -> bytes:
        return bytes(self._client.get_object(Bucket=BUCKET, Key=name)["Body"].read())
