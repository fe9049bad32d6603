"""The local network: its certificate, phones by a code that works once, and nothing by default."""

from __future__ import annotations

import datetime as dt
import socket
import ssl
import stat
import threading

import pytest
import requests
from cryptography import x509
from django.core.cache import cache
from django.test import Client
from django.utils import timezone

from frequens.server.accounts import phone
from frequens.server.accounts.models import PhoneCode
from frequens.server.lan_certificate import PRIVATE, RENEW_DAYS, SERVER_DAYS, lan_certificate

from .conftest import sent

NOW = dt.datetime(2026, 5, 4, 12, tzinfo=dt.UTC)
LAN = "https://192.168.1.5:8766"


@pytest.fixture
def lan(settings, tmp_path, db):
    settings.LAN_URL, settings.LAN_FOLDER = LAN, tmp_path / "lan"
    cache.clear()
    lan_certificate(settings.LAN_FOLDER, ["192.168.1.5"], timezone.now())


class TestCertificate:
    def test_keys_are_their_owners_only(self, tmp_path):
        lan_certificate(tmp_path / "lan", ["192.168.1.5"], NOW)
        modes = {p.name: stat.S_IMODE(p.stat().st_mode) for p in (tmp_path / "lan").iterdir()}
        assert modes == {
            "authority.key": 0o600,
            "server.key": 0o600,
            "authority.crt": 0o600,
            "server.crt": 0o600,
        }
        assert stat.S_IMODE((tmp_path / "lan").stat().st_mode) == 0o700

    def test_it_stays_while_it_holds_and_follows_the_address(self, tmp_path):
        first = lan_certificate(tmp_path / "lan", ["192.168.1.5"], NOW)
        server, authority = first.certificate.read_bytes(), first.authority.read_bytes()
        lan_certificate(tmp_path / "lan", ["192.168.1.5"], NOW)
        assert first.certificate.read_bytes() == server
        lan_certificate(tmp_path / "lan", ["10.0.0.7"], NOW)
        assert first.certificate.read_bytes() != server
        # What was installed on a phone holds on.
        assert first.authority.read_bytes() == authority

    @pytest.mark.parametrize(("left", "is_same"), [(RENEW_DAYS + 1, True), (RENEW_DAYS, False)])
    def test_it_is_made_anew_before_it_runs_out(self, tmp_path, left, is_same):
        made = lan_certificate(tmp_path / "lan", ["192.168.1.5"], NOW)
        before = made.certificate.read_bytes()
        later = NOW + dt.timedelta(days=SERVER_DAYS - left)
        lan_certificate(tmp_path / "lan", ["192.168.1.5"], later)
        assert (made.certificate.read_bytes() == before) == is_same

    @pytest.mark.parametrize("address", ["8.8.8.8", "2001:4860:4860::8888", "172.32.0.1"])
    def test_only_for_addresses_of_a_local_network(self, tmp_path, address):
        with pytest.raises(ValueError, match="no address of a local network"):
            lan_certificate(tmp_path / "lan", [address], NOW)

    def test_a_client_that_trusts_the_authority_connects(self, tmp_path):
        made = lan_certificate(tmp_path / "lan", ["127.0.0.1"], timezone.now())
        assert handshake(made, made.authority) == "ok"

    def test_the_authority_vouches_for_no_other_place(self, tmp_path):
        made = lan_certificate(tmp_path / "lan", ["127.0.0.1"], timezone.now())
        root = x509.load_pem_x509_certificate(made.authority.read_bytes())
        bound = root.extensions.get_extension_for_class(x509.NameConstraints)
        assert bound.critical
        permitted = bound.value.permitted_subtrees
        networks = {str(one.value) for one in permitted if isinstance(one, x509.IPAddress)}
        assert networks == set(PRIVATE)
        assert [one.value for one in permitted if isinstance(one, x509.DNSName)] == ["local"]
        # Another installation's authority is not believed.
        other = lan_certificate(tmp_path / "other", ["127.0.0.1"], timezone.now())
        assert "certificate verify failed" in handshake(made, other.authority)


def handshake(made, trusted):
    """What a client says that trusts only this authority (the system's own TLS library)."""
    serving = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    serving.load_cert_chain(made.certificate, made.key)
    listening = socket.create_server(("127.0.0.1", 0))

    def answer():
        peer, _ = listening.accept()
        try:
            serving.wrap_socket(peer, server_side=True).close()
        except OSError:
            peer.close()

    thread = threading.Thread(target=answer)
    thread.start()
    try:
        context = ssl.create_default_context(cafile=str(trusted))
        with (
            socket.create_connection(listening.getsockname()) as plain,
            context.wrap_socket(plain, server_hostname="127.0.0.1"),
        ):
            return "ok"
    except ssl.SSLCertVerificationError as error:
        return str(error)
    finally:
        thread.join()
        listening.close()


def code_of(client):
    status, found = sent(client, "POST", "/api/phone/code")
    assert status == 200, found
    return found


def enter(code, client=None):
    return sent(client or Client(), "POST", "/api/phone/enter", {"code": code})[0]


def test_by_default_nothing_is_on_the_network(wren, settings):
    assert settings.LAN_URL == ""
    assert sent(wren, "GET", "/api/phone")[1] == {"url": "", "has_certificate": False}
    assert sent(wren, "POST", "/api/phone/code")[0] == 409
    assert Client().get("/lan/certificate.crt").status_code == 404


def test_a_phone_logs_in_with_the_code_once(wren, lan):
    found = code_of(wren)
    assert found["url"] == f"{LAN}/phone#{found['code']}"
    assert found["qr_svg"].startswith("<svg")
    device = Client()
    assert device.get("/api/me").status_code == 401
    assert enter(found["code"], device) == 200
    assert device.get("/api/me").json()["username"] == "wren"
    assert enter(found["code"]) == 403
    assert PhoneCode.objects.count() == 0


def test_a_code_is_read_as_people_write_it(wren, lan):
    code = code_of(wren)["code"]
    assert enter(f" {code[:4].lower()}-{code[4:]} ") == 200


@pytest.mark.parametrize(("seconds", "status"), [(119, 200), (121, 403)])
def test_a_code_holds_for_two_minutes(wren, lan, monkeypatch, seconds, status):
    code = code_of(wren)["code"]
    later = timezone.now() + dt.timedelta(seconds=seconds)
    monkeypatch.setattr(phone.timezone, "now", lambda: later)
    assert enter(code) == status


def test_a_new_code_takes_the_place_of_the_one_before(wren, lan):
    first, second = code_of(wren)["code"], code_of(wren)["code"]
    assert (enter(first), enter(second)) == (403, 200)


def test_nobody_is_let_in_without_it(wren, trainer, lan):
    assert sent(Client(), "POST", "/api/phone/code")[0] == 401
    assert sent(Client(), "GET", "/api/phone")[0] == 401
    for guess in ("", "22222222", PhoneCode.objects.count(), None):
        assert enter(guess) in (403, 422)
    code = code_of(wren)["code"]
    assert PhoneCode.objects.get().code_digest != code
    trainer.is_active = False
    trainer.save()
    assert enter(code) == 403


def test_guessing_is_slowed_down(lan, db, settings):
    settings.ACCOUNT_RATE_LIMITS = {**settings.ACCOUNT_RATE_LIMITS, "login": "3/m/ip"}
    cache.clear()
    assert [enter("22222222") for _ in range(4)] == [403, 403, 403, 429]
    cache.clear()


def test_the_certificate_is_there_to_install(lan):
    answer = Client().get("/lan/certificate.crt")
    assert answer["Content-Type"] == "application/x-x509-ca-cert"
    body = b"".join(answer.streaming_content)
    assert b"PRIVATE" not in body
    assert x509.load_pem_x509_certificate(body).subject.rfc4514_string() == (
        "CN=Frequens on this computer"
    )


@pytest.mark.long
@pytest.mark.own_file
def test_a_house_on_the_network_answers_over_https_and_at_its_own_address(make_house):
    house = make_house().start("--lan", "127.0.0.1", "--lan-port", "0")
    said = house.wait_said("Ctrl-C")
    url = next(word for word in said.split() if word.startswith("https://127.0.0.1:"))
    assert "The phone's browser will warn" in said
    authority = str(house.home / "lan" / "authority.crt")
    here = house.trainer()
    code = here.ask("POST", "/api/phone/code").json()
    assert code["url"].startswith(url)
    device = requests.Session()
    # Only this authority, whatever the machine trusts.
    device.verify, device.trust_env = authority, False
    device.get(url, timeout=30)
    entered = device.post(
        f"{url}/api/phone/enter",
        json={"code": code["code"]},
        headers={"X-CSRFToken": device.cookies["csrftoken"], "Referer": url},
        timeout=30,
    )
    assert entered.status_code == 200, entered.text
    assert all(cookie.secure for cookie in device.cookies)
    assert device.get(f"{url}/api/me", timeout=30).json()["username"] == "wren"
    # Other names than its own are refused, and other origins.
    refused = device.get(f"{url}/api/me", headers={"Host": "evil.example"}, timeout=30)
    assert refused.status_code == 400
    foreign = device.post(
        f"{url}/api/calendar/address",
        headers={"X-CSRFToken": device.cookies["csrftoken"], "Origin": "https://evil.example"},
        timeout=30,
    )
    assert foreign.status_code == 403
    with pytest.raises(requests.exceptions.SSLError):
        requests.get(url, timeout=30)
    with pytest.raises(requests.exceptions.ConnectionError):
        requests.get(url.replace("https:", "http:"), timeout=30)
    assert house.stop() == 0


@pytest.mark.long
@pytest.mark.own_file
def test_without_being_asked_a_house_is_on_this_computer_only(make_house):
    with make_house().start() as house:
        assert "https://" not in house.wait_said("Ctrl-C")
        assert not (house.home / "lan").exists()
        assert house.trainer().ask("GET", "/api/phone").json()["url"] == ""
