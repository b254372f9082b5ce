class Theme {
  dark = $state(document.documentElement.classList.contains("dark"));

  toggle() {
    this.dark = !this.dark;
    document.documentElement.classList.toggle("dark", this.dark);
    try {
      localStorage.setItem("theme", this.dark ? "dark" : "light");
    } catch {
      // Storage is switched off: the choice holds until the page is left.
    }
  }
}

export const theme = new Theme();
