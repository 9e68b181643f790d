"""A heat in the real interface: simulated lanes to the result, a judge's phone that loses its network."""

import re
import sys
from pathlib import Path

import pytest
from playwright.sync_api import expect

from axe import serious_violations
from heats import hears_keys, new_heat

sys.path.insert(0, str(Path(__file__).parent.parent.parent / "scripts"))

from floor_faults import free_port, started

pytestmark = pytest.mark.browser


def test_a_simulated_heat_runs_to_the_log(page, address):
    new_heat(page, address, "Short Swell\namrap 2:00\n5 burpees\n7 air squats", True)
    page.keyboard.press("Space")
    expect(page.locator(".floor-clock")).to_have_text(re.compile(r"−0:0\d"))
    lanes = page.locator(".floor-lane")
    expect(lanes.first.locator("[data-field=so_far]")).to_have_text(re.compile(r"^[1-9]\d* reps now"))
    tops = [lane.bounding_box()["y"] for lane in lanes.all()]
    expect(lanes.first.locator("[data-field=call]")).to_have_text("time")
    expect(lanes.last.locator("[data-field=call]")).to_have_text("time")
    assert [lane.bounding_box()["y"] for lane in lanes.all()] == tops  # nothing jumped
    expect(page.locator(".floor-clock")).to_have_text("2:00")
    expect(page.get_by_text("The results are in the log")).to_be_visible(timeout=60_000)


FILLED = """() => {
  const tops = () => [...document.querySelectorAll(".floor-lane")].map((lane) => lane.getBoundingClientRect().top);
  const before = tops();
  const lane = document.querySelector(".floor-lane");
  lane.querySelector("[data-field=warn]").textContent =
    "9:40 is out of reach, second part: on 3 of 10 days".repeat(5);
  lane.querySelector("[data-field=better]").textContent = "better by about 12 reps, on 8 of 10 days";
  lane.querySelector(".floor-better").hidden = false;
  const offered = tops();
  lane.querySelector(".floor-ask").hidden = false;
  document.querySelector(".floor-over").hidden = false;
  return [before, offered, tops(), document.documentElement.scrollWidth <= innerWidth];
}"""


@pytest.mark.parametrize("width", [1280, 820])
def test_lanes_stay_in_place_whatever_a_lane_has_to_say(page, address, width):
    new_heat(page, address, "Still Swell\namrap 2:00\n5 burpees\n7 air squats", True)
    page.set_viewport_size({"width": width, "height": 1180})
    hears_keys(page)
    before, offered, asked, fits = page.evaluate(FILLED)
    assert len(before) == 2
    assert before == offered == asked
    assert fits


def test_a_phone_taps_without_network_and_the_coach_sees_it_later(page, browser, address):
    heat = new_heat(page, address, "Long Swell\namrap 9:00\n5 burpees\n7 air squats", False)
    page.goto(f"{heat}/lanes")
    link = page.locator(".floor-link a").first.get_attribute("href")
    page.goto(heat)
    phone_context = browser.new_context(viewport={"width": 390, "height": 844})
    phone = phone_context.new_page()
    phone.goto(address + re.search(r"/f/.*", link)[0])
    hears_keys(page)
    page.keyboard.press("Space")
    expect(page.locator(".floor-clock")).to_have_text("0:00")
    expect(phone.locator("[data-field=clock]")).to_have_text(re.compile(r"^0:0\d"))
    done = phone.get_by_role("button", name="Set done")
    done.click()
    lane = page.locator(".floor-lane").first
    expect(lane.locator("[data-field=so_far]")).to_have_text("5 reps now")
    phone_context.set_offline(True)
    done.click()
    phone.get_by_role("button", name="No-rep").click()
    expect(phone.get_by_role("status")).to_have_text(re.compile("2 taps wait for the network"))
    phone.get_by_role("button", name="Undo").click()
    expect(phone.get_by_role("status")).to_have_text(re.compile("3 taps wait"))
    expect(lane.locator("[data-field=so_far]")).to_have_text("5 reps now")
    phone_context.set_offline(False)
    expect(lane.locator("[data-field=so_far]")).to_have_text("12 reps now")
    expect(phone.get_by_role("status")).to_have_text("")
    page.keyboard.press("1")
    expect(phone.locator("[data-field=so_far]")).to_have_text("17 reps now")
    page.keyboard.press("u")
    expect(phone.locator("[data-field=so_far]")).to_have_text("12 reps now")
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    phone_context.close()


def test_a_server_that_is_killed_and_started_again_has_every_tap(browser, tmp_path):
    port = free_port()
    address = f"http://127.0.0.1:{port}"
    server = started(tmp_path, port)
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    phone_context = browser.new_context(viewport={"width": 390, "height": 844})
    try:
        heat = new_heat(page, address, "Long Swell\namrap 9:00\n5 burpees\n7 air squats", False)
        page.goto(f"{heat}/lanes")
        phone = phone_context.new_page()
        phone.goto(address + re.search(r"/f/.*", page.locator(".floor-link a").first.get_attribute("href"))[0])
        page.goto(heat)
        hears_keys(page)
        page.keyboard.press("Space")
        expect(phone.locator("[data-field=clock]")).to_have_text(re.compile(r"^0:0\d"))
        phone.get_by_role("button", name="Set done").click()
        so_far = page.locator(".floor-lane").first.locator("[data-field=so_far]")
        expect(so_far).to_have_text("5 reps now")
        expect(phone.locator("[data-field=so_far]")).to_have_text("5 reps now")
        expect(phone.get_by_role("status")).to_have_text("")  # the answer is there: the kill meets later taps only
        server.kill()
        server.wait()
        phone.get_by_role("button", name="Set done").click()
        page.keyboard.press("1")
        expect(page.get_by_text("1 tap waits here")).to_be_visible()
        expect(phone.get_by_role("status")).to_have_text(re.compile("1 tap waits"))
        server = started(tmp_path, port)
        expect(so_far).to_have_text("17 reps now")
        expect(phone.locator("[data-field=so_far]")).to_have_text("17 reps now")
        expect(page.get_by_text("1 tap waits here")).to_have_count(0)
        page.keyboard.press("u")
        expect(so_far).to_have_text("12 reps now")
    finally:
        server.kill()
        server.wait()
        page.close()
        phone_context.close()


@pytest.mark.parametrize(("theme", "width"), [("light", 1280), ("dark", 820), ("light", 390)])
def test_no_serious_barrier_on_the_floor(browser, address, theme, width):
    context = browser.new_context(viewport={"width": width, "height": 900}, color_scheme=theme, bypass_csp=True)
    page = context.new_page()
    page.goto(f"{address}/workouts/2/floor/")
    assert serious_violations(page) == []
    page.get_by_role("link", name=re.compile("Heat 1")).click()
    expect(page.locator(".floor-lane")).to_have_count(4)
    assert serious_violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    page.get_by_role("link", name="Judges and links").click()
    phone = page.locator(".floor-link a").first.get_attribute("href")
    assert serious_violations(page) == []
    page.goto(address + re.search(r"/f/.*", phone)[0])
    assert serious_violations(page) == []
    context.close()
