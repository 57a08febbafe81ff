// Commands that take something over into a model.
#include <fmt/format.h>

#include "cli/commands.h"
#include "core/codes/combination_rules.h"
#include "core/exchange/ground_report.h"
#include "core/exchange/sheet_file.h"
#include "core/exchange/take_columns.h"
#include "core/exchange/take_drawing.h"

namespace mossbed {
namespace {

struct ReportOptions {
    std::string report, into, out;
    std::vector<double> origin;
    std::optional<double> turn;
    std::vector<std::string> map;
};

int take_boreholes(const ReportOptions& o) {
    const auto m = read(o.into);
    if (!m) return 2;
    GroundReport report;
    try {
        report = read_ground_report(read_text(o.report));
    } catch (const Trouble& t) {
        tell(t.problem);
        return 2;
    }
    for (const Problem& p : report.problems) tell(p);
    Placing placing = likely_placing(report, m->first);
    if (o.origin.size() == 2) placing.origin = {o.origin[0], o.origin[1]};
    if (o.turn) placing.turn = *o.turn;
    for (const std::string& pair : o.map) {
        const size_t at = pair.find('=');
        if (at == std::string::npos) {
            fmt::print(stderr, "--map: \"{}\" has no equals sign; write CODE=STRATUM.\n", pair);
            return 2;
        }
        placing.stratum_of[pair.substr(0, at)] = pair.substr(at + 1);
    }
    const std::vector<Problem> taking = problems_of_taking(report, placing, m->first);
    for (const Problem& p : taking) tell(p);
    const bool left_out = report.anything_left_out() || has_errors(taking);
    for (const std::string& pair : o.map)
        if (std::none_of(report.codes.begin(), report.codes.end(),
                         [&](const ReportCode& c) { return c.code == pair.substr(0, pair.find('=')); }))
            return 2;  // told above: the command does not fit the report
    const bool any = std::any_of(report.holes.begin(), report.holes.end(),
                                 [&](const ReportHole& h) { return reason_left_out(h, m->first).empty(); });
    if (!any) {
        fmt::print(stderr, "{}: no borehole can be taken from it; nothing is written.\n", o.report);
        return 2;
    }
    const Model next = with_report(m->first, report, placing);
    for (const ReportHole& h : report.holes) {
        const std::string why = reason_left_out(h, m->first);
        const Borehole* b = why.empty() ? find_id(next.ground.boreholes, h.id) : nullptr;
        if (b)
            fmt::print("{}: at ({:.2f}, {:.2f}), {} layers to {:.2f} m, {} blow counts\n", b->id, b->at.x, b->at.y,
                       b->layers.size(), b->layers.back().bottom, b->blow_counts.size());
        else
            fmt::print("{}: left out: {}\n", h.id, why);
    }
    for (const Stratum& s : next.ground.strata)
        if (!find_id(m->first.ground.strata, s.id)) fmt::print("{}: E {:g} MPa ({})\n", s.id, s.E, s.E_basis);
    if (!write(next, o.out)) return 2;
    return left_out ? 1 : 0;
}

// The model that takes something over: that of the file, or a new one where none is named.
std::optional<Model> model_into(const std::string& path) {
    if (path.empty()) return new_model();
    auto m = read(path);
    return m ? std::optional(std::move(m->first)) : std::nullopt;
}
int nothing_of(const std::string& file) {
    fmt::print(stderr, "{}: nothing can be taken from it; nothing is written.\n", file);
    return 2;
}

struct TableOptions {
    std::string table, into, out, signs = "actions", length, force;
    double rim = 1;
    bool loads_only = false, dry_run = false;
};

// How the table was understood: its writing, each column, what was taken.
void print_understanding(const ColumnTable& t) {
    const char* separators = t.is_sheet            ? "a sheet"
                             : t.separator == '\t' ? "tabs between cells"
                             : t.separator == ';'  ? "semicolons between cells"
                                                   : "commas between cells";
    fmt::print("Understood: a {} table, {}, decimal {}.\n",
               t.is_long ? "long (a row a column and case)" : "wide (a row a column)", separators,
               t.habit.decimal == DecimalSign::point ? "point" : "comma");
    for (const Head& h : t.heads.heads)
        if (!h.text.empty())
            fmt::print("  {:<24} {}{}{}\n", h.text, name_of(h.holds),
                       h.load_case.empty() ? "" : " of case " + h.load_case, h.unit ? ", in " + h.unit->name : "");
    for (const std::string& id : t.cases) {
        const ColumnLoad s = t.sum_of(id);
        fmt::print("Case {}: sum N {:g} kN, Mx {:g} and My {:g} kN·m, Hx {:g} and Hy {:g} kN\n", id, s.N, s.Mx, s.My,
                   s.Hx, s.Hy);
    }
}

std::optional<WrittenUnit> unit_option(const std::string& text, Dimension of) {
    const auto u = unit_of(text);
    return u && u->of == of ? u : std::nullopt;
}

int take_table(const TableOptions& o) {
    const std::optional<Model> model = model_into(o.into);
    if (!model) return 2;
    ColumnTableOptions options;
    options.are_reactions = o.signs == "reactions", options.loads_only = o.loads_only;
    if (!o.length.empty()) options.length = unit_option(o.length, Dimension::length);
    if (!o.force.empty()) options.force = unit_option(o.force, Dimension::force);
    ColumnTable table;
    try {
        table = read_column_table(read_table_file(read_text(o.table)), options);
    } catch (const Trouble& t) {
        tell(t.problem);
        return 2;
    }
    for (const Problem& p : table.problems) tell(p);
    if (table.none()) {
        return nothing_of(o.table);
    }
    print_understanding(table);
    const Taken taken = take_columns(*model, table, {o.loads_only, o.rim});
    for (const Problem& p : taken.problems) tell(p);
    if (!taken.anything() && (has_errors(table.problems) || has_errors(taken.problems))) {
        return nothing_of(o.table);
    }
    fmt::print(
        "Columns taken: {} added, {} moved, {} with another size or angle, {} with other loads; {} loads in all.\n",
        taken.added, taken.moved, taken.resized, taken.loaded, table.loads.size());
    for (const std::string& change : taken.changes) fmt::print("  {}\n", change);
    if (!taken.missing.empty()) fmt::print("Not in the table, left as they are: {}\n", fmt::join(taken.missing, ", "));
    if (taken.made_slab) fmt::print("The slab is the rectangle {:g} m clear of the columns' faces.\n", o.rim);
    if (!o.dry_run && !write(taken.model, o.out)) return 2;
    return has_errors(table.problems) || has_errors(taken.problems) ? 1 : 0;
}

struct DrawingOptions {
    std::string drawing, into, out, unit, origin;
    std::map<LayerRole, std::string> layers;
    bool dry_run = false;
};

void print_plan(const DrawnPlan& plan) {
    fmt::print("Understood: a drawing in units of {:g} m; ({:g}, {:g}) m of it is (0, 0).\n", plan.unit, plan.origin.x,
               plan.origin.y);
    for (const auto& [layer, n] : plan.shapes)
        fmt::print("  layer {:<20} {} ({} shapes)\n", layer, name_of(plan.layers.at(layer)), n);
    fmt::print(
        "Drawn: {} outline, {} openings, {} patches, {} columns, {} walls, {} ribs, {} piles, {} lines, {} ground "
        "patches.\n",
        plan.outline ? 1 : 0, plan.openings.size(), plan.patches.size(), plan.columns.size(), plan.walls.size(),
        plan.ribs.size(), plan.piles.size(), plan.lines.size(), plan.ground.size());
}

int take_drawing_file(const DrawingOptions& o) {
    const std::optional<Model> model = model_into(o.into);
    if (!model) return 2;
    PlanOptions options;
    if (!o.unit.empty()) options.unit = unit_of(o.unit)->factor;
    if (!o.origin.empty()) {
        options.origin = point_of(o.origin);
        if (!options.origin) {
            fmt::print(stderr, "--origin: \"{}\" is no place; write X,Y in m, with decimal points.\n", o.origin);
            return 2;
        }
    }
    for (const auto& [role, layer] : o.layers)
        if (!layer.empty()) options.layers[layer] = role;
    DrawnPlan plan;
    try {
        plan = read_plan(read_drawing(read_text(o.drawing)), options);
    } catch (const Trouble& t) {
        tell(t.problem);
        return 2;
    }
    for (const Problem& p : plan.problems) tell(p);
    if (plan.none()) {
        return nothing_of(o.drawing);
    }
    print_plan(plan);
    const TakenDrawing taken = take_drawing(*model, plan);
    fmt::print("Taken: {}{} new things, {} that stood there already.\n", taken.outline ? "the outline, " : "",
               taken.added.size(), taken.kept.size());
    if (!taken.missing.empty())
        fmt::print("Not in the drawing, left as they are: {}\n", fmt::join(taken.missing, ", "));
    if (!o.dry_run && !write(taken.model, o.out)) return 2;
    return has_errors(plan.problems) ? 1 : 0;
}

}  // namespace

void add_import(CLI::App& app, int& code) {
    static ReportOptions report;
    static TableOptions table;
    static DrawingOptions drawing;
    auto* i = app.add_subcommand("import", "Take something over into a model.");
    i->require_subcommand(1);
    auto* ib =
        i->add_subcommand("boreholes",
                          "Boreholes and strata from a ground report, AGS4 or CSV. Exit 0: all taken; 1: something "
                          "was left out; 2: nothing, and no file is written.");
    ib->add_option("REPORT", report.report, "an AGS4 or CSV file")->required();
    ib->add_option("--into", report.into, "the model that takes them")->required();
    ib->add_option("--out", report.out, "where the model is written")->required();
    ib->add_option("--origin", report.origin, "easting and northing of the building's origin, m")->expected(2);
    ib->add_option("--turn", report.turn, "degrees from east to the building's x, anticlockwise");
    ib->add_option("--map", report.map, "CODE=STRATUM (may be given again)");
    ib->callback([&] { code = take_boreholes(report); });
    auto* ic = i->add_subcommand("columns",
                                 "Columns and reactions from a table. Exit 0: all taken; 1: something was left out; 2: "
                                 "nothing, and no file is written.");
    ic->add_option("TABLE", table.table,
                   "CSV or text with commas, semicolons or tabs, or the first sheet of an .xlsx or .ods file")
        ->required();
    auto* out = ic->add_option("--out", table.out, "where the model is written");
    ic->add_option("--into", table.into, "the model that takes them; else a new one with a slab round the columns");
    ic->add_option("--rim", table.rim, "m from the columns' faces to the rim of the new slab")
        ->check(CLI::Range(-100.0, 1000.0));
    ic->add_option("--signs", table.signs, "actions on the slab, or reactions on the frame")
        ->check(CLI::IsMember({"actions", "reactions"}));
    ic->add_option("--length", table.length, "unit of lengths where the table states none")
        ->check(CLI::IsMember({"m", "mm", "cm", "ft", "in"}));
    ic->add_option("--force", table.force, "unit of forces where the table states none")
        ->check(CLI::IsMember({"N", "kN", "MN", "kip", "lb"}));
    ic->add_flag("--loads-only", table.loads_only, "loads of columns that the model has, nothing else");
    auto* dry = ic->add_flag("--dry-run", table.dry_run, "say what would be taken, write nothing");
    ic->callback([&code, out, dry] {
        if (out->count() == 0 && dry->count() == 0) throw CLI::RequiredError("--out");
        code = take_table(table);
    });
    auto* id =
        i->add_subcommand("drawing",
                          "An outline, openings, columns, walls and lines from a DXF drawing. Exit 0: all taken; "
                          "1: something was left out; 2: nothing, and no file is written.");
    id->add_option("DRAWING", drawing.drawing, "a DXF file, text or binary")->required();
    auto* drawing_out = id->add_option("--out", drawing.out, "where the model is written");
    id->add_option("--into", drawing.into, "the model that takes it; else a new one");
    id->add_option("--unit", drawing.unit, "unit of the drawing, in place of what it states")
        ->check(CLI::IsMember({"m", "mm", "cm", "in", "ft"}));
    id->add_option("--origin", drawing.origin, "X,Y in m of the drawing that become (0, 0)");
    for (auto [name, role] : {std::pair{"--slab", LayerRole::slab},
                              {"--openings", LayerRole::openings},
                              {"--patches", LayerRole::patches},
                              {"--columns", LayerRole::columns},
                              {"--walls", LayerRole::walls},
                              {"--lines", LayerRole::lines},
                              {"--ribs", LayerRole::ribs},
                              {"--piles", LayerRole::piles},
                              {"--ground", LayerRole::ground}})
        id->add_option(name, drawing.layers[role], fmt::format("layer that holds {}", name_of(role)));
    auto* drawing_dry = id->add_flag("--dry-run", drawing.dry_run, "say what would be taken, write nothing");
    id->callback([&code, drawing_out, drawing_dry] {
        if (drawing_out->count() == 0 && drawing_dry->count() == 0) throw CLI::RequiredError("--out");
        code = take_drawing_file(drawing);
    });
}

}  // namespace mossbed
