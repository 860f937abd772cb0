#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""The HTML sheets in a real browser: they turn by keys, tick off, keep their place, and fetch nothing.

browser_sheets.py IVRANT_CLI MODEL.ivrant: writes the sheets and drives Chromium by its WebDriver (W3C), headless.
"""
import json
import os
import re
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request

KEYS = {"right": "\ue014", "left": "\ue012", "down": "\ue00f", "space": " "}
ELEMENT = "element-6066-11e4-a52e-4f735466cecf"


class Browser:
    """A session of chromedriver; every call is one HTTP request."""

    def __init__(self, home):
        environment = dict(os.environ, HOME=home)
        self.driver = subprocess.Popen(["chromedriver", "--port=0"], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
                                       text=True, env=environment)
        port = None
        for line in self.driver.stdout:
            found = re.search(r"successfully on port (\d+)", line)
            if found:
                port = found.group(1)
                break
        if port is None:
            raise RuntimeError("chromedriver does not start")
        self.base = f"http://127.0.0.1:{port}"
        options = {"args": ["--headless=new", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage",
                            "--window-size=1200,900", f"--user-data-dir={home}/profile"]}
        logs = {"performance": "ALL", "browser": "ALL"}
        made = self.call("POST", "/session", {"capabilities": {"alwaysMatch": {
            "goog:chromeOptions": options, "goog:loggingPrefs": logs}}})
        self.session = "/session/" + made["sessionId"]

    def call(self, method, path, body=None):
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(self.base + path, data=data, method=method,
                                         headers={"Content-Type": "application/json"})
        try:
            with urllib.request.urlopen(request, timeout=60) as answer:
                return json.load(answer)["value"]
        except urllib.error.HTTPError as error:
            raise RuntimeError(f"{path}: {error.read().decode()[:400]}") from error

    def open(self, url):
        self.call("POST", self.session + "/url", {"url": url})

    def run(self, script, *arguments):
        return self.call("POST", self.session + "/execute/sync", {"script": "return " + script, "args": list(arguments)})

    def press(self, key):
        body = self.run("document.body")[ELEMENT]
        self.call("POST", f"{self.session}/element/{body}/value", {"text": KEYS[key]})

    def click(self, selector):
        found = self.call("POST", self.session + "/element", {"using": "css selector", "value": selector})[ELEMENT]
        self.call("POST", f"{self.session}/element/{found}/click", {})

    def requests(self):
        """Addresses that anything was fetched from since the last call."""
        urls = []
        for entry in self.call("POST", self.session + "/se/log", {"type": "performance"}):
            message = json.loads(entry["message"])["message"]
            if message["method"] == "Network.requestWillBeSent":
                urls.append(message["params"]["request"]["url"])
        return urls

    def complaints(self):
        return [entry["message"] for entry in self.call("POST", self.session + "/se/log", {"type": "browser"})]

    def close(self):
        try:
            self.call("DELETE", self.session)
        finally:
            self.driver.terminate()
            self.driver.wait(20)


def expect(what, found, wanted):
    if found != wanted:
        raise SystemExit(f"FAILED: {what}: found {found!r}, expected {wanted!r}")
    print(f"ok: {what}")


def main():
    cli, model = sys.argv[1:3]
    with tempfile.TemporaryDirectory() as folder:
        sheets = os.path.join(folder, "sheets.html")
        subprocess.run([cli, "guide", model, "-o", sheets], check=True)
        browser = Browser(folder)
        try:
            drive(browser, "file://" + sheets)
        finally:
            browser.close()
            time.sleep(0.2)  # the profile's last files


def drive(browser, url):
    browser.open(url)
    count = browser.run("document.querySelectorAll('.step').length")
    expect("there are steps", count > 3, True)
    expect("every picture is there",
           browser.run("[].every.call(document.images, i => i.complete && i.naturalWidth > 0)"), True)
    now = "[].findIndex.call(document.querySelectorAll('.step'), s => s.classList.contains('now'))"
    ticked = "document.querySelectorAll('.step.done').length"
    expect("it begins at the first step", browser.run(now), 0)
    browser.press("right")
    browser.press("right")
    expect("the arrow keys turn on", browser.run(now), 2)
    expect("the step is in sight",
           browser.run("(r => r.top >= -1 && r.top < innerHeight)(document.querySelector('.now').getBoundingClientRect())"),
           True)
    browser.press("left")
    expect("and back", browser.run(now), 1)
    browser.press("space")
    expect("the space bar ticks off", browser.run(ticked), 1)
    expect("and turns on", browser.run(now), 2)
    browser.click("#step4 input")
    expect("a click ticks off as well", browser.run(ticked), 2)
    for _ in range(count + 3):
        browser.press("down")
    expect("nothing lies behind the last step", browser.run(now), count - 1)
    browser.press("left")
    browser.open(url)
    expect("what is ticked is kept", browser.run(ticked), 2)
    expect("so is the place", browser.run(now), count - 2)
    fetched = [address for address in browser.requests() if not address.startswith(("file://", "data:", "chrome"))]
    expect("nothing is fetched", fetched, [])
    expect("nothing is complained of", [c for c in browser.complaints() if "favicon" not in c], [])


if __name__ == "__main__":
    main()
