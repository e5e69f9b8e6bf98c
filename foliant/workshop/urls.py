"""The pages."""

from django.contrib.auth.views import LogoutView
from django.urls import path

from foliant.workshop import views

urlpatterns = [
    path("", views.projects, name="projects"),
    path("enter/", views.Enter.as_view(), name="enter"),
    path("enter/demo/", views.enter_demo, name="enter-demo"),
    path("join/", views.Join.as_view(), name="join"),
    path("leave/", LogoutView.as_view(), name="leave"),
    path("workshop/", views.workshop, name="workshop"),
    path("starters/<slug:key>.svg", views.starter, name="starter"),
    path("motifs.json", views.motifs, name="motifs"),
    path("projects/new/", views.new_project, name="new-project"),
    path("projects/<int:project_id>/duplicate/", views.duplicate_project, name="duplicate-project"),
    path("projects/<int:project_id>/undo/", views.undo_project, name="undo-project"),
    path("projects/<int:project_id>/<str:station>/", views.station, name="station"),
]
