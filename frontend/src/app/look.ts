// Styles that all stations share, the general before the particular. What belongs to one station comes with it.
import "./tokens.css";
import "./base.css";
import "../ui/layout.css";
import "../ui/buttons.css";
import "../ui/fields.css";
import "../ui/tables.css";
import "../ui/page.css";
import "../charts/charts.css";
import "./shell.css";
