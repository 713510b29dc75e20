"""The socket the program answers on."""

import asyncio
import socket
from concurrent.futures import ThreadPoolExecutor

from yarnkite import serve


def test_an_answer_does_not_wait_for_the_acknowledgement_of_the_packet_before_it():
    """Else each answer on a connection that is kept takes 40 ms: the acknowledgement is delayed at the other end."""

    async def accepted() -> int:
        found: asyncio.Future[int] = asyncio.get_running_loop().create_future()

        def connected(_: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            known = writer.get_extra_info("socket")
            found.set_result(known.getsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY))
            writer.close()

        listening = serve._open_socket(None)
        server = await asyncio.start_server(connected, sock=listening)
        async with server:
            _, writer = await asyncio.open_connection(*listening.getsockname())
            given = await found
            writer.close()
        return given

    # A browser that other tests drive may have a loop of its own in this thread.
    with ThreadPoolExecutor(1) as apart:
        assert apart.submit(asyncio.run, accepted()).result() == 1
