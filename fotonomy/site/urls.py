"""Root urls."""

from django.contrib.auth import views as auth
from django.urls import include, path

from fotonomy.field.views import offline
from fotonomy.shoots.views import gear as gear_views
from fotonomy.shoots.views import working
from fotonomy.site import help, login, requests, views
from fotonomy.site.staff import staff

handler403 = views.refused
handler500 = requests.server_error

urlpatterns = [
    path("health/", requests.health, name="health"),
    path("", views.home, name="home"),
    # At the root: a worker serves what lies below its own address.
    path("field-worker.js", offline.worker, name="field-worker"),
    path("manifest.webmanifest", offline.manifest, name="manifest"),
    path("log-in/", login.LogIn.as_view(), name="login"),
    path("log-in/code/", login.second_step, name="second-step"),
    path("log-out/", login.LogOut.as_view(), name="logout"),
    path("token/", login.token, name="token"),
    path("sign-up/", views.sign_up, name="sign-up"),
    path(
        "password/",
        auth.PasswordChangeView.as_view(form_class=login.NewPassword, success_url="/shoots/"),
        name="password_change",
    ),
    path(
        "password/lost/",
        views.where_mail_is(auth.PasswordResetView.as_view(form_class=login.LostPassword)),
        name="password_reset",
    ),
    path(
        "password/sent/",
        views.where_mail_is(auth.PasswordResetDoneView.as_view()),
        name="password_reset_done",
    ),
    path(
        "password/new/<uidb64>/<token>/",
        views.where_mail_is(auth.PasswordResetConfirmView.as_view()),
        name="password_reset_confirm",
    ),
    path(
        "password/done/",
        views.where_mail_is(auth.PasswordResetCompleteView.as_view()),
        name="password_reset_complete",
    ),
    path("staff/", staff.urls),
    path("account/", views.account, name="account"),
    path("account/second-factor/", login.second_factor_page, name="second-factor"),
    path("account/everything.zip", views.take_along, name="take-along"),
    path("demo/", views.enter_demo, name="enter-demo"),
    path("demo/take/", views.take_demo, name="take-demo"),
    path("guide/", help.guide, name="guide"),
    path("guide/words/", help.words, name="words"),
    path("guide/words/<slug:key>/", help.word, name="word"),
    path("working/about/<slug:key>/", working.topic, name="topic"),
    path("working/<str:name>/", working.loose, name="loose"),
    path("drill/", include("fotonomy.drill.urls")),
    path("theme/", views.choose_theme, name="choose-theme"),
    path("shoots/", include("fotonomy.shoots.urls")),
    path("shoots/", include("fotonomy.days.urls")),
    path("shoots/", include("fotonomy.field.urls")),
    path("shoots/", include("fotonomy.takes.urls")),
    path("", include("fotonomy.crew.urls")),
    # Taking gear out reaches into the setups that use it.
    path("kit/<slug:sort>/<int:gear_id>/delete/", gear_views.gear_delete, name="gear-delete"),
    path("kit/", include("fotonomy.kit.urls")),
]
