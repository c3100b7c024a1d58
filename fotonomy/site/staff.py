"""The staff's bare pages: people and invitations, and nothing of what people plan."""

from typing import Any

from django.contrib.admin import AdminSite, ModelAdmin, StackedInline, action
from django.contrib.auth.admin import UserAdmin
from django.contrib.auth.models import User
from django.contrib.auth.views import redirect_to_login
from django.core.exceptions import PermissionDenied
from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from django.shortcuts import resolve_url
from django.utils.html import format_html

from fotonomy.kit.models import Allowance
from fotonomy.shoots.services.accounts import delete_account
from fotonomy.site import second_factor
from fotonomy.site.models import Invitation


class StaffSite(AdminSite):
    """Only what running a server takes."""

    site_header = site_title = "Fotonomy, staff"
    index_title = "People and invitations"
    site_url = "/"

    def login(
        self, request: HttpRequest, extra_context: dict[str, Any] | None = None
    ) -> HttpResponse:
        """The door that everybody takes, with the second factor where there is one."""
        if request.user.is_authenticated and not self.has_permission(request):
            raise PermissionDenied
        return redirect_to_login(
            request.GET.get("next", request.get_full_path()), resolve_url("login")
        )


class MayKeep(StackedInline):  # type: ignore[type-arg]
    """How much a person may keep, where it is not the usual."""

    model = Allowance
    can_delete = True
    verbose_name_plural = "may keep, where it is not the usual"


class People(UserAdmin):  # type: ignore[type-arg]
    """People: whether they may come in and who is staff; deleting removes everything of theirs."""

    list_display = ("username", "is_active", "is_staff", "date_joined", "last_login")
    list_filter = ("is_active", "is_staff")
    fieldsets = (
        (None, {"fields": ("username", "password")}),
        ("May", {"fields": ("is_active", "is_staff", "is_superuser")}),
        ("Dates", {"fields": ("last_login", "date_joined")}),
    )
    filter_horizontal = ()
    inlines = (MayKeep,)
    actions = ("switch_second_factor_off",)

    @action(description="Switch the second factor off (phone and paper lost)")
    def switch_second_factor_off(self, request: HttpRequest, queryset: "QuerySet[User]") -> None:
        """The password alone opens again; what they plan stays theirs."""
        for user in queryset:
            second_factor.remove(user)
        self.message_user(request, f"Switched off for {len(queryset)}.")

    def get_deleted_objects(
        self, objs: Any, request: HttpRequest
    ) -> tuple[list[str], dict[str, int], set[str], list[str]]:
        """What goes with a person is theirs alone and is not listed; nothing holds it back."""
        named = {"people, with all that is theirs": len(objs)}
        return [str(user) for user in objs], named, set(), []

    def delete_model(self, request: HttpRequest, obj: User) -> None:
        """The whole account, as its owner would."""
        delete_account(obj)

    def delete_queryset(self, request: HttpRequest, queryset: "QuerySet[User]") -> None:
        """Several at once."""
        for user in queryset:
            delete_account(user)


class Invitations(ModelAdmin):  # type: ignore[type-arg]
    """Invitations: made here, sent by hand, used once."""

    list_display = ("__str__", "link", "made", "used_by", "used_at")
    readonly_fields = ("link",)
    fields = ("note", "link")

    def link(self, invitation: Invitation) -> str:
        """The address to send."""
        if invitation.pk is None or invitation.used_at:
            return "used" if invitation.used_at else "after saving"
        address = invitation.get_absolute_url()
        return format_html('<a href="{}">{}</a>', address, address)


staff = StaffSite(name="staff")
staff.register(User, People)
staff.register(Invitation, Invitations)
