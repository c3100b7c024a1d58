"""Addresses of the field pages of a shoot."""

from django.urls import path

from fotonomy.field.views import card, light, offline, pictures, takes

urlpatterns = [
    path("<int:shoot_id>/field/", card.field, name="field"),
    path("<int:shoot_id>/field/day/<int:day_id>/", card.field_day, name="field-day"),
    path("<int:shoot_id>/field/day/<int:day_id>/ahead.json", offline.ahead, name="field-ahead"),
    path("<int:shoot_id>/field/news/", offline.news, name="field-news"),
    path("<int:shoot_id>/field/send/", offline.send, name="field-send"),
    path("<int:shoot_id>/field/left/<int:day_id>/", takes.remains, name="field-remains"),
    path("<int:shoot_id>/field/takes.csv", takes.takes_csv, name="takes-csv"),
    path("<int:shoot_id>/field/takes/<int:take_id>/", takes.take_edit, name="take-edit"),
    path("<int:shoot_id>/field/takes/<int:take_id>/delete/", takes.take_delete, name="take-delete"),
    path(
        "<int:shoot_id>/field/picture/<str:take_uid>/add/", pictures.picture_add, name="picture-add"
    ),
    path("<int:shoot_id>/field/picture/<int:picture_id>.jpg", pictures.picture, name="picture"),
    path(
        "<int:shoot_id>/field/picture/<int:picture_id>/drop/",
        pictures.picture_drop,
        name="picture-drop",
    ),
    path("<int:shoot_id>/field/step/<slug:way>/", takes.field_step, name="field-step"),
    path("<int:shoot_id>/field/<int:setup_id>/", card.card, name="field-card"),
    path("<int:shoot_id>/field/<int:setup_id>/light/", light.light, name="field-light"),
    path("<int:shoot_id>/field/<int:setup_id>/take/", takes.take, name="field-take"),
]
