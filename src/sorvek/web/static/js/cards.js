// Cards: copying text and link.
import { component } from "./tools.js";

component("copier", () => ({
  async copy(text, words) {
    try {
      await navigator.clipboard.writeText(text);
      this.$refs.said.textContent = words;
    } catch (e) {
      this.$refs.said.textContent = "The browser does not allow copying here; select and copy by hand.";
    }
  },
  copyText() { this.copy(this.$refs.text.textContent, "Text copied."); },
  copyLink() { this.copy(this.$refs.link.value, "Link copied."); },
}));
