"""Tests of reasoning over several states of one vehicle."""
