"""The window: Qt Widgets that bind to the workspace; no physics, no rules."""
