// The sheet, or a piece, on paper in true size.

export const paper = ({ project }) => ({
  paper: { piece: "", size: "a4", width: "", height: "", overlap: "10 mm", mirrored: false, lines: false },
  paperProblem: "",

  // It begins with the piece that is chosen, or the only one there is.
  openPaper() {
    const { rows } = this.words;
    this.paper.piece = this.instance?.piece ?? (rows.length === 1 ? rows[0].id : "");
    this.paperProblem = "";
    this.$refs.paper.showModal();
  },
  async savePaper() {
    try {
      const asked = new URLSearchParams(Object.entries(this.paper).map(([name, value]) => [name, String(value)]));
      await project.saveFile(`${project.ofSheet("paper.pdf")}&${asked}`);
      this.$refs.paper.close();
    } catch (problem) {
      this.paperProblem = problem.message;
    }
  },
});
