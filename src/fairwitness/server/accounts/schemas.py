"""Shapes of what is asked and answered about people and their way in."""

from __future__ import annotations

from rest_framework import serializers

from fairwitness.core.messages.rendering import QUANTITIES
from fairwitness.server.accounts.models import Role

PASSWORD_LETTERS_MAX = 256


class DemoAccountSerializer(serializers.Serializer):
    username = serializers.CharField()
    password = serializers.CharField()
    name = serializers.CharField()
    role = serializers.CharField()


class SessionSerializer(serializers.Serializer):
    logged_in = serializers.BooleanField()
    username = serializers.CharField(allow_blank=True)
    name = serializers.CharField(allow_blank=True)
    role = serializers.CharField(allow_blank=True)
    units = serializers.DictField(child=serializers.CharField())
    demo_accounts = DemoAccountSerializer(many=True)
    workshop = serializers.CharField(allow_blank=True)
    currency = serializers.CharField(allow_blank=True)
    by_code = serializers.BooleanField()
    has_code = serializers.BooleanField()
    needs_first_lead = serializers.BooleanField()


class LoginSerializer(serializers.Serializer):
    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=PASSWORD_LETTERS_MAX, trim_whitespace=False)


class UnitsSerializer(serializers.Serializer):
    """Unit by quantity."""

    pressure = serializers.ChoiceField(choices=list(QUANTITIES["pressure"]), required=False)
    vacuum = serializers.ChoiceField(choices=list(QUANTITIES["vacuum"]), required=False)
    temperature = serializers.ChoiceField(choices=list(QUANTITIES["temperature"]), required=False)


class OpenSessionSerializer(serializers.Serializer):
    id = serializers.CharField()
    since = serializers.CharField(allow_blank=True)
    device = serializers.CharField(allow_blank=True)
    by_code = serializers.BooleanField()
    until = serializers.DateTimeField()
    here = serializers.BooleanField()


class PersonSerializer(serializers.Serializer):
    id = serializers.IntegerField()
    username = serializers.CharField()
    name = serializers.CharField()
    role = serializers.ChoiceField(choices=Role.choices)
    blocked = serializers.BooleanField()
    last_login = serializers.DateTimeField(allow_null=True)
    sessions = OpenSessionSerializer(many=True)


class PersonWithLinkSerializer(serializers.Serializer):
    person = PersonSerializer()
    link = serializers.CharField()


class NewPersonSerializer(serializers.Serializer):
    username = serializers.CharField(max_length=150)
    name = serializers.CharField(max_length=300, allow_blank=True, default="")
    role = serializers.ChoiceField(choices=Role.choices)


class PersonChangeSerializer(serializers.Serializer):
    role = serializers.ChoiceField(choices=Role.choices, required=False)
    blocked = serializers.BooleanField(required=False)


class OwnPasswordSerializer(serializers.Serializer):
    old = serializers.CharField(max_length=PASSWORD_LETTERS_MAX, trim_whitespace=False)
    new = serializers.CharField(max_length=PASSWORD_LETTERS_MAX, trim_whitespace=False)


class OwnCodeSerializer(serializers.Serializer):
    password = serializers.CharField(max_length=PASSWORD_LETTERS_MAX, trim_whitespace=False)
    code = serializers.CharField(max_length=6, allow_blank=True)


class ByCodeSerializer(serializers.Serializer):
    username = serializers.CharField(max_length=150)
    code = serializers.CharField(max_length=6)


class NamedSerializer(serializers.Serializer):
    username = serializers.CharField()
    name = serializers.CharField()


class LinkSerializer(serializers.Serializer):
    secret = serializers.CharField(max_length=100)


class SpendLinkSerializer(LinkSerializer):
    password = serializers.CharField(max_length=PASSWORD_LETTERS_MAX, trim_whitespace=False)


class FirstLeadSerializer(serializers.Serializer):
    code = serializers.CharField(max_length=40)
    workshop = serializers.CharField(max_length=120)
    username = serializers.CharField(max_length=150)
    name = serializers.CharField(max_length=300, allow_blank=True, default="")
    password = serializers.CharField(max_length=PASSWORD_LETTERS_MAX, trim_whitespace=False)
