#!/bin/sh
# Chromium without a window and without all that belongs to one: half the work for a test. Unlike the whole browser it opens
# no page by itself, and the driver waits for one.
exec /usr/lib/chromium/chromium-headless-shell "$@" data:,
