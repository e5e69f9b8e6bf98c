"""All addresses."""

from django.urls import include, path

from foliant.workshop.api import api

urlpatterns = [
    path("api/", api.urls),
    path("", include("foliant.workshop.urls")),
]

handler500 = "foliant.workshop.views.trouble"
