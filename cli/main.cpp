// mossbed-cli: the core without a window. Errors go to standard error, one sentence a line.
#include <fmt/format.h>

#include <cstdio>

#include "cli/commands.h"
#include "core/answer/punching_mends.h"
#include "core/answer/solve.h"
#include "core/codes/combination_rules.h"
#include "core/file/schema.h"
#include "words/curve_file.h"
#include "words/quantities.h"
#include "words/results_file.h"

using namespace mossbed;

namespace {

int run_solve(const std::string& model, const std::string& out, const SolveOptions& options) {
    const auto m = read(model);
    if (!m) return 2;
    const auto a = solve_or_tell(m->first, options);
    if (!a) return 2;
    try {
        save_text(write_results(*a, m->second), out);
    } catch (const Trouble& t) {
        tell(t.problem);
        return 2;
    }
    return 0;
}

// "142 / 170 kPa"
std::string numbers_of(const Row& r) {
    const std::string unit = name_of(r.unit);
    if (!r.value) return "";
    if (!r.limit) return written_with_unit(*r.value, unit);
    return written_against(*r.value, *r.limit, unit);
}

int run_check(const std::string& model, const std::string& json) {
    const auto m = read(model);
    if (!m) return 2;
    const auto a = solve_or_tell(m->first, {});
    if (!a) return 2;
    fmt::print("{}\n\nLoads by case (kN down; kN·m about the origin)\n", a->model->title);
    for (const CaseTotal& c : a->cases)
        fmt::print("  {:<12} Fz {:>10.1f}   Mx {:>11.1f}   My {:>11.1f}{}{}\n", c.id, c.on_slab.Fz, c.on_slab.Mx,
                   c.on_slab.My, c.self_weight > 0 ? fmt::format("   self-weight {:.1f}", c.self_weight) : "",
                   c.uplift > 0 ? fmt::format("   water up {:.1f}", c.uplift) : "");
    fmt::print("\nCombinations\n");
    for (const CombinationAnswer& c : as_listed(a->combinations))
        if (c.is_solved())
            fmt::print("  {:<12} {:<9} {:>5.0f} kPa largest{}, {:>3.0f} % in contact, equilibrium error {:.1e}\n",
                       c.combination.id, name_of(c.combination.purpose), c.max_pressure,
                       c.yield_ratio > 0 ? fmt::format(" ({} of the base yields)", share_in_words(c.yield_ratio)) : "",
                       100 * c.contact_ratio, c.equilibrium_error);
        else
            fmt::print("  {:<12} {:<9} {}: {}\n", c.combination.id, name_of(c.combination.purpose), name_of(c.ending),
                       c.explanation);
    fmt::print("\nChecks, worst first\n");
    bool over = false;
    for (const Row& r : a->checks) {
        over |= r.status == Status::over;
        fmt::print("  {:<11} {:>6}  {:<30} {:<24} {:<8} {}\n", name_of(r.status),
                   r.utilisation ? fmt::format("{:.2f}", *r.utilisation) : "", r.title, numbers_of(r), r.combination,
                   r.note);
    }
    fmt::print(
        "\nMesh: {} nodes, {} cells, {:.0f} % quadrilaterals, smallest angle {:.0f}°, worst aspect {:.1f}, "
        "worst shape {:.2f} (1 is square). Solved in "
        "{:.2f} s.\n",
        a->quality.nodes, a->quality.elements, 100 * a->quality.quad_share, a->quality.smallest_angle,
        a->quality.worst_aspect, a->quality.worst_shape, a->seconds);
    if (!json.empty()) {
        try {
            save_text(write_checks(*a), json);
        } catch (const Trouble& t) {
            tell(t.problem);
            return 2;
        }
    }
    const bool solved = std::any_of(a->combinations.begin(), a->combinations.end(),
                                    [](const CombinationAnswer& c) { return c.is_solved(); });
    if (!solved) fmt::print(stderr, "nothing was solved: no check can pass.\n");
    return over || !solved ? 1 : 0;
}

// What the command line asks for.
struct Asked {
    std::string model, out, json, rules, item;
    SolveOptions options;
    CurveOptions curve;
    std::vector<std::string> places;
    bool results = false;
};

void add_solve(CLI::App& app, Asked& a, int& code) {
    auto* s = app.add_subcommand(
        "solve", "Mesh and solve MODEL and write the results file. Exit 0 when it was read and meshed, else 2.");
    s->add_option("MODEL", a.model, "a .mossbed file")->required();
    s->add_option("--out", a.out, "results file to write")->required();
    s->add_option("--combination", a.options.combinations, "solve this combination only (may be given again)");
    s->add_option("--mesh-size", a.options.mesh_size, "element size in m instead of the model's")
        ->check(CLI::PositiveNumber);
    s->callback([&] { code = run_solve(a.model, a.out, a.options); });
}

void add_check(CLI::App& app, Asked& a, int& code) {
    auto* c = app.add_subcommand("check",
                                 "Solve MODEL and print its ledger. Exit 0: nothing is over its limit; 1: something "
                                 "is, a combination has no equilibrium or nothing was solved; 2: it cannot be read or "
                                 "meshed.");
    c->add_option("MODEL", a.model, "a .mossbed file")->required();
    c->add_option("--json", a.json, "also write the checks to this file");
    c->callback([&] { code = run_check(a.model, a.json); });
}

// What would mend one place of punching, a line each.
int run_mend(const std::string& path, const std::string& item) {
    auto read_it = read(path);
    if (!read_it) return 2;
    try {
        bool any = false;
        punching_mends(read_it->first, item, nullptr, [&](const PunchingMend& m) {
            any |= m.model != nullptr;
            size_t n = 0;
            for (const auto& s : m.series) n += s.tries.size();
            const std::string tries = fmt::format("{} tried", n);
            fmt::print("{:<10} {:<48} {:<6} {}\n", name_of(m.kind), m.model ? m.what : m.why_not,
                       m.model ? fmt::format("{:.2f}", m.use) : "", tries);
            std::fflush(stdout);
        });
        return any ? 0 : 1;
    } catch (const Trouble& t) {
        tell(t.problem);
        return 2;
    }
}

void add_mend(CLI::App& app, Asked& a, int& code) {
    auto* c = app.add_subcommand(
        "mend",
        "Try what would mend the punching of ITEM, or the least that still passes: slab, "
        "patch, concrete, column, links. Exit 0: something does; 1: nothing; 2: it cannot be tried.");
    c->add_option("MODEL", a.model, "a .mossbed file")->required();
    c->add_option("ITEM", a.item, "of its row: C7, C5+C6, W1")->required();
    c->callback([&] { code = run_mend(a.model, a.item); });
}

void add_schema(CLI::App& app, Asked& a) {
    auto* schema = app.add_subcommand("schema", "Print the JSON Schema of the model file.");
    schema->add_flag("--results", a.results, "of the results file instead");
    schema->callback([&] { std::fputs(a.results ? results_schema_text() : model_schema().c_str(), stdout); });
}

// The rows that the rules give, as text; into a model where one is named.
int run_combine(const std::string& path, const std::string& out, const std::string& rules) {
    auto read_it = read(path);
    if (!read_it) return 2;
    Model m = std::move(read_it->first);
    if (!rules.empty()) m.settings.combination_rules = rules, m.settings.keys["combination_rules"] = "";
    std::vector<Problem> problems;
    const std::vector<Combination> by_rule = combinations_by_rule(m, problems);
    for (const Problem& p : problems) tell(p);
    if (!problems.empty()) return 2;
    if (!m.loads.combinations) m.loads.combinations = by_rule;
    remake_combinations(m, true);
    for (const Combination& c : *m.loads.combinations) {
        std::string factors;
        for (const auto& [id, f] : c.factors) factors += fmt::format("{}{:g} {}", factors.empty() ? "" : " + ", f, id);
        fmt::print("{:<16} {:<9} {:<40} {}\n", c.id, name_of(c.purpose), factors, c.generated_by.value_or("by hand"));
    }
    return out.empty() || write(m, out) ? 0 : 2;
}

void add_combine(CLI::App& app, Asked& a, int& code) {
    auto* c = app.add_subcommand(
        "combine",
        "Write the combinations of MODEL by rule and print them; those made by hand are kept. Exit 0: done; 2: the "
        "model or the rules cannot be read.");
    c->add_option("MODEL", a.model, "a .mossbed file")->required();
    c->add_option("--out", a.out, "also write the model with them to this file");
    c->add_option("--rules", a.rules, "by these rules, in place of settings.combination_rules");
    c->callback([&] { code = run_combine(a.model, a.out, a.rules); });
    auto* r = app.add_subcommand("rules", "Print a rule file (JSON), to be edited and put into loads.rules.");
    r->add_option("NAME", a.rules, "as in settings.combination_rules")->required();
    r->callback([&] {
        const std::string text = rule_file_of(a.rules);
        if (text.empty()) {
            std::string known;
            for (const std::string& n : names_of_rules()) known += (known.empty() ? "" : ", ") + n;
            tell({"there are no rules called \"" + a.rules + "\"",
                  "rules",
                  "name one of " + known,
                  Severity::error,
                  {}});
            code = 2;
        } else {
            std::fputs(text.c_str(), stdout);
        }
    });
}

int run_curve(const std::string& path, const std::string& out, CurveOptions options,
              const std::vector<std::string>& places) {
    auto read_it = read(path);
    if (!read_it) return 2;
    for (const std::string& place : places) {
        const auto p = point_of(place);
        if (!p) {
            tell({"\"" + place + "\" is no place", "--at", "write X,Y in metres, as 4,1.5", Severity::error, {}});
            return 2;
        }
        options.points.push_back(*p);
    }
    try {
        const Curve curve = load_settlement_curve(read_it->first, options);
        if (curve.reaches_nothing())
            fmt::print(stderr, "combination {} has no equilibrium at any factor: {}\n", curve.combination,
                       curve.explanation);
        else if (!curve.explanation.empty())
            fmt::print(stderr, "the curve ends at {:.4g}: {}\n", curve.steps.back().factor, curve.explanation);
        const bool as_table = out.size() > 4 && out.compare(out.size() - 4, 4, ".csv") == 0;
        save_text(as_table ? curve_table(curve, ',') : write_curve(curve), out);
    } catch (const Trouble& t) {
        tell(t.problem);
        return 2;
    }
    return 0;
}

void add_curve(CLI::App& app, Asked& a, int& code) {
    auto* c = app.add_subcommand(
        "curve",
        "Scale one combination of MODEL from nought to a factor and write settlements, contact and pressure step by "
        "step. It ends with the first step that has no equilibrium. Exit 0: written; 2: it could not be.");
    c->add_option("MODEL", a.model, "a .mossbed file")->required();
    c->add_option("--combination", a.curve.combination, "its name")->required();
    c->add_option("--to", a.curve.to, "the last factor")->capture_default_str();
    c->add_option("--steps", a.curve.steps, "how many")->capture_default_str();
    c->add_option("--at", a.places, "X,Y of a point in m (may be given again); else middle, rims, worst column");
    c->add_option("--out", a.out, "file to write: .json, or .csv for a table")->required();
    c->callback([&] { code = run_curve(a.model, a.out, a.curve, a.places); });
}

int run(int argc, char** argv) {
    CLI::App app{"Moss Bed: rafts and mats on springs, without a window."};
    app.require_subcommand(1);
    Asked asked;
    int code = 0;
    add_solve(app, asked, code);
    add_check(app, asked, code);
    add_curve(app, asked, code);
    add_combine(app, asked, code);
    add_import(app, code);
    add_export(app, code);
    add_mend(app, asked, code);
    add_steel(app, code);
    add_schema(app, asked);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        const int r = app.exit(e);
        return r == 0 ? 0 : 2;
    }
    return code;
}

}  // namespace

int main(int argc, char** argv) {
    try {
        return run(argc, argv);
    } catch (const std::exception& e) {  // none is expected: what can go wrong is told where it does
        std::fputs(e.what(), stderr);
    } catch (...) {
        std::fputs("something went wrong that has no name", stderr);
    }
    return 2;
}
