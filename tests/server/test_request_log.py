"""The log of requests: what was asked and how it ended, and nothing anybody wrote."""

from __future__ import annotations

import logging
import re

import pytest
from django.http import HttpResponse
from django.test import RequestFactory

from frequens.server.request_log import RequestLogMiddleware


@pytest.fixture
def line(caplog):
    def logged(request, status=200):
        with caplog.at_level(logging.INFO, logger="frequens"):
            RequestLogMiddleware(lambda _: HttpResponse(status=status))(request)
        (record,) = caplog.records
        return record.getMessage()

    return logged


def test_a_request_is_one_line_without_its_query(line):
    said = line(RequestFactory().post("/api/films?name=Thistle.mp4"), status=201)
    assert re.fullmatch(r"POST /api/films 201 \d+ ms", said)


def test_how_long_it_took_is_in_milliseconds(line, monkeypatch):
    clock = iter([10.0, 10.25])
    monkeypatch.setattr("frequens.server.request_log.time.monotonic", lambda: next(clock))
    assert line(RequestFactory().get("/api/today")).endswith(" 250 ms")


def test_no_address_makes_a_second_line(line):
    said = line(RequestFactory().get("/x%0D%0A2026-01-01 ERROR forged%C3%A4"))
    assert "\n" not in said
    assert "\r" not in said
    assert said.isascii()
