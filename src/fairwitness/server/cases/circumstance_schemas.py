"""Shapes of conditions over HTTP: when the complaint comes, when something was read, whether it does it now."""

from __future__ import annotations

from rest_framework import serializers

from fairwitness.core.model.circumstances import LOADS, MINUTES_MOST, TEMPERATURES

TEMPERATURE_CHOICES = [(key, key) for key in TEMPERATURES]


class CircumstancesSerializer(serializers.Serializer):
    """Conditions; what is left out was not said."""

    temperature = serializers.ChoiceField(choices=TEMPERATURE_CHOICES, required=False)
    minutes_running = serializers.FloatField(min_value=0, max_value=MINUTES_MOST, required=False)
    load = serializers.ChoiceField(choices=[(key, key) for key in LOADS], required=False)
    wet = serializers.BooleanField(required=False)
    after_standing = serializers.BooleanField(required=False)


class TakenSerializer(CircumstancesSerializer):
    """Under which conditions something was read, and whether the complaint was there meanwhile."""

    happened = serializers.BooleanField(required=False)


class HappeningSerializer(serializers.Serializer):
    """Whether the complaint is there at this moment."""

    happening = serializers.BooleanField()
