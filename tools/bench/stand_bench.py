"""How soon the music stands there, how soon a tap is counted, how large the page is."""

from statistics import median

from bench.at_the_stand import PHONE, a_browser, demo_stage, keep_day, open_stand, sign_in
from bench.sizes import size
from crumb.demo import people

_RUNS = size(12, 2)
_SIZES = """
() => performance.getEntriesByType('resource')
  .filter((one) => /assets\\/.*\\.(js|css)$/.test(one.name))
  .reduce((sum, one) => sum + one.encodedBodySize, 0)
"""
_WARM = """
() => new Promise((done) => {
  const begun = performance.now()
  const look = () => {
    const buttons = [...document.querySelectorAll('button')]
    const click = buttons.some((one) => /Start click/.test(one.textContent))
    if (document.querySelector('.stand-music svg') && click) done(performance.now() - begun)
    else requestAnimationFrame(look)
  }
  document.querySelector('.big-start').click()
  requestAnimationFrame(look)
})
"""
_COLD = """
() => new Promise((done) => {
  const look = () => {
    if (document.querySelector('.stand-music svg')) done(performance.now())
    else requestAnimationFrame(look)
  }
  look()
})
"""
_TAP = """
() => new Promise((done) => {
  const shown = () => document.querySelector('.stand-side').textContent
  const before = shown()
  const begun = performance.now()
  const look = () => {
    if (shown() !== before) done(performance.now() - begun)
    else requestAnimationFrame(look)
  }
  document.querySelector('.pad .clean').click()
  look()
})
"""


def main() -> int:
    """Measure and print."""
    name = people.roster()["Clarinets"][0]
    with demo_stage() as stage, a_browser() as browser:
        context = browser.new_context(**PHONE, service_workers="block")
        page = sign_in(context, stage.url, name)
        open_stand(page)
        first = page.evaluate(_SIZES) / 1000
        where, state = page.url, context.storage_state()
        context.close()
        context = browser.new_context(**PHONE, storage_state=state, service_workers="block")
        page = context.new_page()
        page.goto(stage.url)
        page.locator("ol.today a").first.wait_for()
        open_stand(page)
        size = page.evaluate(_SIZES) / 1000
        context.close()
        print(
            f"scripts and styles as sent, shell, Today and Stand: {size:.0f} kB (aim 250);"
            f" with the sign-in {first:.0f} kB",
            flush=True,
        )
        cold = []
        for _ in range(_RUNS):
            fresh = browser.new_context(**PHONE, storage_state=state)
            opened = fresh.new_page()
            opened.goto(where, wait_until="commit")
            cold.append(opened.evaluate(_COLD))
            fresh.close()
        _say("from an empty browser to the music", cold, 1500)
        context = browser.new_context(**PHONE)
        page = sign_in(context, stage.url, name)
        keep_day(page)
        warm = []
        for _ in range(_RUNS):
            warm.append(page.evaluate(_WARM))
            page.get_by_role("button", name="Back to today").click()
            page.locator(".big-start").wait_for()
        _say("from Start to music and click", warm, 300)
        open_stand(page)
        context.set_offline(True)
        taps = [page.evaluate(_TAP) for _ in range(3 * _RUNS)]
        _say("a tap without a network, until it is counted", taps, 50)
    return 0


def _say(what: str, times: list[float], aim: int) -> None:
    found = sorted(times)
    print(
        f"{what}: median {median(found):.0f} ms, worst {found[-1]:.0f} ms (aim {aim})", flush=True
    )
