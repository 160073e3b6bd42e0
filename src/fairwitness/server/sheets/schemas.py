"""What sheets, figures and links look like in requests and answers."""

from __future__ import annotations

from rest_framework import serializers


class MayBeShownSerializer(serializers.Serializer):
    """A picture or a figure that may stand on the sheet."""

    reference = serializers.CharField()
    words = serializers.CharField(allow_blank=True)
    shown = serializers.BooleanField()


class OpeningSerializer(serializers.Serializer):
    """One opening of a link."""

    at = serializers.DateTimeField()
    address = serializers.CharField()
    what = serializers.CharField()


class SheetLinkSerializer(serializers.Serializer):
    """A link, without its secret."""

    id = serializers.IntegerField()
    words = serializers.CharField()
    whole = serializers.BooleanField()
    by = serializers.CharField()
    made_at = serializers.DateTimeField()
    expires_at = serializers.DateTimeField()
    state = serializers.ChoiceField(choices=[(s, s) for s in ("open", "expired", "revoked")])
    openings = OpeningSerializer(many=True)


class SheetAboutSerializer(serializers.Serializer):
    """What goes with a sheet."""

    title = serializers.CharField()
    offered = MayBeShownSerializer(many=True)
    may = serializers.BooleanField(help_text="Figures may be chosen.")
    may_hand_over = serializers.BooleanField()
    links_on = serializers.BooleanField()
    links = SheetLinkSerializer(many=True)


class SheetShownSerializer(serializers.Serializer):
    """Which pictures and figures are chosen; none: the sheet chooses itself."""

    shown = serializers.ListField(child=serializers.CharField(max_length=40), max_length=10)


class SheetLinkWantedSerializer(serializers.Serializer):
    """A link as it is asked for."""

    words = serializers.CharField(max_length=120)
    whole = serializers.BooleanField(default=False)
    days = serializers.IntegerField(min_value=1, max_value=90, default=14)


class SheetLinkMadeSerializer(serializers.Serializer):
    """A link with its secret, told once."""

    path = serializers.CharField()
    link = SheetLinkSerializer()


class TraceFigureGivenSerializer(serializers.Serializer):
    """A stretch of a capture with words."""

    from_s = serializers.FloatField()
    to_s = serializers.FloatField()
    words = serializers.CharField(max_length=300)


class TraceFigureSerializer(serializers.Serializer):
    """A figure as it is listed."""

    id = serializers.IntegerField()
    capture = serializers.IntegerField()
    from_s = serializers.FloatField()
    to_s = serializers.FloatField()
    words = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class WorkshopSerializer(serializers.Serializer):
    """The shop as its sheets show it."""

    name = serializers.CharField(allow_blank=True)
    address = serializers.CharField(allow_blank=True)
    currency = serializers.CharField(allow_blank=True)
    language = serializers.CharField(allow_blank=True)
    languages = serializers.ListField(child=serializers.CharField())
    links_on = serializers.BooleanField()
    logo = serializers.BooleanField()
    may = serializers.BooleanField()


class WorkshopChangeSerializer(serializers.Serializer):
    """What is changed of it; what is left out stays."""

    name = serializers.CharField(max_length=120, required=False)
    address = serializers.CharField(max_length=300, allow_blank=True, required=False)
    currency = serializers.CharField(max_length=8, allow_blank=True, required=False)
    language = serializers.CharField(max_length=16, allow_blank=True, required=False)
    links_on = serializers.BooleanField(required=False)


class LogoSerializer(serializers.Serializer):
    """A logo as it is sent."""

    file = serializers.FileField()
