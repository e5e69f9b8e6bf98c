// What is wrong with a typed value, said above its field until it is typed anew.

export function showProblem(box, input, message) {
  clearProblem(box, input);
  const note = document.createElement("span");
  note.className = "problem";
  note.setAttribute("role", "alert");
  note.textContent = message;
  box.append(note);
  input.setAttribute("aria-invalid", "true");
}

export function clearProblem(box, input) {
  input.removeAttribute("aria-invalid");
  box.querySelector(".problem")?.remove();
}
