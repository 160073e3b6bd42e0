"""Shapes of forms over HTTP."""

from __future__ import annotations

from rest_framework import serializers

from fairwitness.server.cases.circumstance_schemas import TakenSerializer


class OptionSerializer(serializers.Serializer):
    """One of a few words to choose from."""

    value = serializers.CharField()
    words = serializers.CharField()


class ChosenOptionSerializer(OptionSerializer):
    """One of a few words to choose from, unless it must not be taken on this engine."""

    why_not = serializers.CharField(allow_blank=True)
    cautions = serializers.ListField(child=serializers.CharField(), help_text="Beside those of the form, where chosen.")


class FormChoiceSerializer(serializers.Serializer):
    """What is chosen once."""

    key = serializers.CharField()
    words = serializers.CharField()
    options = ChosenOptionSerializer(many=True)


class FormRowSerializer(serializers.Serializer):
    """One entry for each cylinder."""

    key = serializers.CharField()
    words = serializers.CharField()
    options = OptionSerializer(many=True)
    optional = serializers.BooleanField()
    alone = serializers.BooleanField()
    tick = serializers.BooleanField()


class FormEntrySerializer(serializers.Serializer):
    """A number or a text that belongs to no cylinder."""

    key = serializers.CharField()
    words = serializers.CharField()
    optional = serializers.BooleanField()
    signed = serializers.BooleanField()
    text = serializers.BooleanField()


class FormSerializer(serializers.Serializer):
    """How one test is written down."""

    test = serializers.CharField()
    title = serializers.CharField()
    stage = serializers.CharField(allow_blank=True, help_text="In the order of the work; empty of what is no test.")
    stage_words = serializers.CharField(allow_blank=True)
    hint = serializers.CharField()
    cautions = serializers.ListField(child=serializers.CharField())
    why_not = serializers.CharField(allow_blank=True, help_text="Why it is not done on this engine; empty where it is.")
    kept = serializers.CharField()
    rows = FormRowSerializer(many=True)
    choices = FormChoiceSerializer(many=True)
    entries = FormEntrySerializer(many=True)
    least = serializers.IntegerField()
    usual = serializers.DictField(
        child=serializers.CharField(), help_text='Sound readings, by the value of the first choice; "" for all.'
    )
    along = serializers.ListField(
        child=serializers.CharField(), help_text="Values of the first choice that may name a place on the wire."
    )
    places = serializers.ListField(child=serializers.CharField())
    between = serializers.BooleanField(help_text="From one of the places to another.")
    calculates = serializers.ListField(child=serializers.CharField())


class FilledSerializer(serializers.Serializer):
    """A form as it was filled in."""

    values = serializers.DictField(
        child=serializers.DictField(child=serializers.JSONField()), default=dict, help_text="By row, then by cylinder."
    )
    entries = serializers.DictField(child=serializers.JSONField(), default=dict)
    choices = serializers.DictField(child=serializers.CharField(max_length=64), default=dict)
    circumstances = TakenSerializer(default=dict)
