// Bars: the least that passes, and the schedule.
#include <fmt/format.h>

#include "cli/commands.h"
#include "core/answer/least_steel.h"
#include "core/bars/schedule.h"
#include "core/file/text_file.h"

namespace mossbed {
namespace {

std::string words_of(const BarScheme& s) {
    std::string out;
    for (Face f : {Face::bottom, Face::top})
        for (Direction d : {Direction::x, Direction::y}) {
            const ChosenBars& b = s.base.base(f, d);
            out += fmt::format("{}{} {} ϕ{:g} at {:g}", out.empty() ? "" : ", ", name_of(f), name_of(d), b.diameter,
                               b.spacing);
        }
    return out;
}

int run_least_steel(const std::string& path, const std::string& out, int most) {
    auto read_it = read(path);
    if (!read_it) return 2;
    try {
        const LeastSteel found = least_steel(read_it->first, most, nullptr);
        for (const BarScheme& s : found.schemes)
            fmt::print("{} {:>3} groups {:>10.0f} kg   {}\n", &s == &found.scheme() ? "*" : " ", s.groups(), s.kg,
                       words_of(s));
        for (const ExtraBars& e : found.scheme().extra) {
            Box box;
            for (Point p : e.outline) box.add(p);
            fmt::print("  {:<4} {:<6} {}  ϕ{:g} at {:g}   x {:.2f} to {:.2f}, y {:.2f} to {:.2f} m\n", e.id,
                       name_of(e.face), name_of(e.direction), e.diameter, e.spacing, box.low.x, box.high.x, box.low.y,
                       box.high.y);
        }
        if (found.uniform_kg)
            fmt::print("{} rounds. ", found.rounds),
                fmt::print("The lightest base bars alone weigh {:.0f} kg; these {:.0f} kg, {:.1f} % less.\n",
                           *found.uniform_kg, found.scheme().kg, 100 * (1 - found.scheme().kg / *found.uniform_kg));
        for (const std::string& title : found.left) fmt::print("Over all the same: {}.\n", title);
        if (!out.empty() && !write(*found.model, out)) return 2;
        return found.left.empty() ? 0 : 1;
    } catch (const Trouble& t) {
        tell(t.problem);
        return 2;
    }
}

int run_bars(const std::string& path, const std::string& csv, const std::string& xlsx) {
    auto read_it = read(path);
    if (!read_it) return 2;
    const auto answer = solve_or_tell(read_it->first, {});
    if (!answer) return 2;
    const LaidBars list = list_bars(*answer, *answer);
    if (list.marks.empty()) {
        tell({"there are no bars to list",
              "steel",
              "give a design code, loads and combinations, or base bars",
              Severity::error,
              {}});
        return 2;
    }
    try {
        if (!csv.empty()) save_text(schedule_csv(list), csv);
        if (!xlsx.empty()) save_text(schedule_xlsx(list, read_it->first.title, answer->steel.concrete_m3), xlsx);
    } catch (const Trouble& t) {
        tell(t.problem);
        return 2;
    }
    if (csv.empty() && xlsx.empty()) fmt::print("{}", schedule_csv(list));
    for (BarKind k : {BarKind::base, BarKind::extra, BarKind::at_rim, BarKind::trimmer, BarKind::link, BarKind::chair})
        if (const double kg = list.kg(k); kg > 0) fmt::print(stderr, "{:<14} {:>10.0f} kg\n", name_of(k), kg);
    fmt::print(stderr, "{:<14} {:>10.0f} kg, {:.1f} kg/m³\n", "all", list.kg(),
               list.kg() / std::max(answer->steel.concrete_m3, 1e-9));
    return 0;
}

struct Asked {
    std::string model, out, csv, xlsx;
    int most = 0;
};

}  // namespace

void add_steel(CLI::App& app, int& code) {
    static Asked a;
    auto* least = app.add_subcommand(
        "least-steel",
        "Put base and extra bars together, of the model's sizes and spacings, so that they are the least that passes, "
        "and print what was weighed. Exit 0: everything on bars passes; 1: something is over all the same; 2: it "
        "cannot be done.");
    least->add_option("MODEL", a.model, "a .mossbed file")->required();
    least->add_option("--out", a.out, "write the model with these bars");
    least->add_option("--most", a.most, "groups of like bars at most, instead of the model's")
        ->check(CLI::Range(4, 200));
    least->callback([&] { code = run_least_steel(a.model, a.out, a.most); });
    auto* bars = app.add_subcommand(
        "bars", "Solve MODEL and list every bar: marks, shapes, lengths, numbers, weights. Exit 0 listed, 2 not.");
    bars->add_option("MODEL", a.model, "a .mossbed file")->required();
    bars->add_option("--csv", a.csv, "write the schedule to this file");
    bars->add_option("--xlsx", a.xlsx, "write it as a workbook");
    bars->callback([&] { code = run_bars(a.model, a.csv, a.xlsx); });
}

}  // namespace mossbed
