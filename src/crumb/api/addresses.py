"""The client's address; a proxy is believed only if the settings name it."""

from functools import lru_cache
from ipaddress import IPv4Network, IPv6Network, ip_address, ip_network

from starlette.requests import Request

from crumb.settings import get_settings

Network = IPv4Network | IPv6Network


@lru_cache
def _trusted(setting: str) -> tuple[Network, ...]:
    return tuple(ip_network(one.strip(), strict=False) for one in setting.split(",") if one.strip())


def _is_trusted(address: str, networks: tuple[Network, ...]) -> bool:
    try:
        return any(ip_address(address) in network for network in networks)
    except ValueError:
        return False


def place_of(request: Request) -> str:
    """The address of whoever asks.

    Behind trusted proxies it is the last address in ``X-Forwarded-For`` that is none of theirs;
    what stands before that anybody can have written.
    """
    peer = request.client.host if request.client else "unknown"
    networks = _trusted(get_settings().trusted_proxies)
    if not _is_trusted(peer, networks):
        return peer
    for said in reversed(request.headers.get("x-forwarded-for", "")[-2000:].split(",")):
        address = said.strip()
        try:
            ip_address(address)
        except ValueError:
            return peer
        if not _is_trusted(address, networks):
            return address
    return peer
