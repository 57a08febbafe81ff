#include "core/exchange/ground_report.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <set>

#include "core/exchange/heads.h"
#include "core/exchange/numbers.h"
#include "core/exchange/sheet_file.h"
#include "core/file/text_encoding.h"

namespace mossbed {
namespace {

std::optional<double> number(const std::string& text) {
    const std::string s = trimmed(text);
    double v = 0;
    const auto [end, error] = std::from_chars(s.data(), s.data() + s.size(), v);
    if (s.empty() || error != std::errc() || end != s.data() + s.size() || !std::isfinite(v)) return {};
    return v;
}

struct Line {
    int number = 0;
    std::vector<std::string> cells;
    bool broken = false;  // a quotation mark is not closed: the cells are those before it
};

class Lines {
  public:
    Lines(const std::string& text, std::vector<Problem>& problems) : problems_(problems) {
        size_t at = 0;
        int n = 0;
        while (at < text.size()) {
            size_t end = text.find('\n', at);
            if (end == std::string::npos) end = text.size();
            std::string line = text.substr(at, end - at);
            while (!line.empty() && (line.back() == '\r' || line.back() == '\0')) line.pop_back();
            lines_.push_back({++n, std::move(line)});
            at = end + 1;
        }
    }
    // Cells by the rules of quoted CSV: quotes round a cell, doubled within. Null for an empty line.
    std::optional<Line> next(char separator, bool quotes_wanted) {
        while (at_ < lines_.size()) {
            const auto& [n, text] = lines_[at_++];
            if (trimmed(text).empty()) continue;
            Line out{n, {}, false};
            size_t i = 0;
            for (;;) {
                while (i < text.size() && (text[i] == ' ' || (text[i] == '\t' && separator != '\t'))) ++i;
                std::string cell;
                if (i < text.size() && text[i] == '"') {
                    bool closed = false;
                    for (++i; i < text.size(); ++i) {
                        if (text[i] != '"')
                            cell += text[i];
                        else if (i + 1 < text.size() && text[i + 1] == '"')
                            cell += text[i++];
                        else {
                            closed = true, ++i;
                            break;
                        }
                    }
                    if (!closed) {
                        say(n, "a quotation mark is opened and not closed",
                            "close it; a mark inside a text is doubled");
                        out.broken = true;
                        return out;
                    }
                    const size_t comma = text.find(separator, i);
                    if (!trimmed(text.substr(i, comma == std::string::npos ? comma : comma - i)).empty())
                        say(n,
                            fmt::format("there is text between cell {} and the comma after it", out.cells.size() + 1),
                            "put the whole cell within quotation marks");
                    i = comma;
                } else {
                    const size_t comma = text.find(separator, i);
                    cell =
                        trimmed(text.substr(std::min(i, text.size()), comma == std::string::npos ? comma : comma - i));
                    if (quotes_wanted && !cell.empty() && !warned_) {
                        warned_ = true;
                        say(n, fmt::format("cell {} stands without quotation marks", out.cells.size() + 1),
                            "it is read as it is; AGS4 wants every cell within them", Severity::warning);
                    }
                    i = comma;
                }
                out.cells.push_back(trimmed(cell));
                if (i == std::string::npos || i >= text.size()) break;
                ++i;
            }
            return out;
        }
        return {};
    }
    void say(int line, std::string what, std::string mend, Severity severity = Severity::error) {
        if (problems_.size() < 200)
            problems_.push_back({std::move(what), fmt::format("line {}", line), std::move(mend), severity, {}});
    }

  private:
    std::vector<std::pair<int, std::string>> lines_;
    std::vector<Problem>& problems_;
    size_t at_ = 0;
    bool warned_ = false;
};

struct Row {
    int line = 0;
    bool broken = false;            // cut by a quotation mark that is not closed
    std::set<std::string> missing;  // headings beyond the end of a row that is cut short
    std::map<std::string, std::string> cells;
    std::string operator[](const std::string& key) const {
        const auto it = cells.find(key);
        return it == cells.end() ? "" : it->second;
    }
};

class Collector {
  public:
    Collector(GroundReport& report, Lines& lines) : report_(report), lines_(lines) {}
    ReportHole* hole(const std::string& id, int line, bool make) {
        for (ReportHole& h : report_.holes)
            if (h.id == id) return &h;
        if (!make) {
            lines_.say(line, fmt::format("it names a hole \"{}\" that is in no LOCA row", id),
                       "add the hole to LOCA, or mend its name");
            return nullptr;
        }
        report_.holes.push_back({});
        report_.holes.back().id = id;
        return &report_.holes.back();
    }
    std::optional<double> value(const Row& r, const std::string& key, bool wanted) {
        const std::string s = r[key];
        if (trimmed(s).empty()) {
            if (wanted) lines_.say(r.line, fmt::format("{} is empty", key), "give a number in m");
            return {};
        }
        const auto v = number(s);
        if (!v)
            lines_.say(r.line, fmt::format("{} is \"{}\", which is not a number", key, s),
                       "write a plain number with a point");
        return v;
    }

  private:
    GroundReport& report_;
    Lines& lines_;
};

void damage(GroundReport& report, ReportHole& h, const std::string& where, const std::string& what,
            const std::string& mend) {
    if (h.damage.empty()) h.damage = where.rfind("hole", 0) == 0 ? what : where + ": " + what;
    report.problems.push_back({fmt::format("{}: hole {} is left out", what, h.id), where, mend, Severity::error, {}});
}

// Layers from the top down, each starting where the one before it ends: else one is missing or wrong.
void check_layers(GroundReport& report, ReportHole& h) {
    std::stable_sort(h.layers.begin(), h.layers.end(),
                     [](const ReportLayer& a, const ReportLayer& b) { return a.top < b.top; });
    if (!h.damage.empty()) return;
    for (size_t k = 0; k < h.layers.size(); ++k) {
        const double above = k == 0 ? 0 : h.layers[k - 1].base, top = h.layers[k].top;
        if (std::abs(top - above) <= 0.01) continue;
        return damage(report, h, "hole " + h.id,
                      fmt::format("its layers {} between {:.2f} m and {:.2f} m",
                                  top > above ? "leave a gap" : "overlap", std::min(above, top), std::max(above, top)),
                      "check the tops and bases of its layers");
    }
    if (h.final_depth && !h.layers.empty() && std::abs(*h.final_depth - h.layers.back().base) > 0.05)
        report.problems.push_back(
            {fmt::format("its layers end at {:.2f} m, the hole at {:.2f} m", h.layers.back().base, *h.final_depth),
             "hole " + h.id,
             "check whether its last layer is missing",
             Severity::warning,
             {}});
}

void finish(GroundReport& report) {
    for (ReportHole& h : report.holes) check_layers(report, h);
    std::stable_sort(report.holes.begin(), report.holes.end(),
                     [](const ReportHole& a, const ReportHole& b) { return a.layers.size() > 0 && b.layers.empty(); });
    for (const ReportHole& h : report.holes)
        if (h.layers.empty() && h.damage.empty())
            report.problems.push_back({"it has no layers and is left out",
                                       "hole " + h.id,
                                       "give its layers, or remove it",
                                       Severity::warning,
                                       {}});
    std::map<std::string, double> depth, thickest, blows;
    std::map<std::string, int> tests;
    for (const ReportHole& h : report.holes) {
        std::map<std::string, double> in_hole;
        for (const ReportLayer& l : h.damage.empty() ? h.layers : std::vector<ReportLayer>{}) {
            auto it = std::find_if(report.codes.begin(), report.codes.end(),
                                   [&](const ReportCode& c) { return c.code == l.code; });
            if (it == report.codes.end()) it = report.codes.insert(it, {l.code, "", 0, 0, 0, 0, {}});
            ++it->layers;
            in_hole[l.code] += l.base - l.top;
            depth[l.code] += l.top;
            if (l.base - l.top > thickest[l.code]) thickest[l.code] = l.base - l.top, it->description = l.description;
            for (auto [z, N] : h.blows)
                if (z >= l.top && z < l.base) blows[l.code] += N, ++tests[l.code];
        }
        for (ReportCode& c : report.codes)
            if (const auto it = in_hole.find(c.code); it != in_hole.end()) {
                c.thinnest = c.holes == 0 ? it->second : std::min(c.thinnest, it->second);
                c.thickest = std::max(c.thickest, it->second);
                ++c.holes;
            }
    }
    for (ReportCode& c : report.codes)
        if (tests[c.code] > 0) c.mean_blows = blows[c.code] / tests[c.code];
    std::stable_sort(report.codes.begin(), report.codes.end(), [&](const ReportCode& a, const ReportCode& b) {
        return depth[a.code] / a.layers < depth[b.code] / b.layers;
    });
    const bool any = std::any_of(report.holes.begin(), report.holes.end(), [](auto& h) { return !h.layers.empty(); });
    if (!any && !has_errors(report.problems))
        report.problems.push_back({"no hole with layers was found in it",
                                   "the file",
                                   "an AGS4 file needs the groups LOCA and GEOL; a CSV file a header row",
                                   Severity::error,
                                   {}});
}

}  // namespace

namespace {

// Holes of LOCA. Of two of one name it cannot be told whose the layers are, unless they stand at one place.
void read_locations(GroundReport& report, const std::vector<Row>& rows, Lines& lines, Collector& collect) {
    std::map<std::string, int> first;  // line of a hole's row
    for (const Row& r : rows) {
        const std::string id = r["LOCA_ID"];
        if (id.empty()) {
            lines.say(r.line, "LOCA_ID is empty", "give the hole a name");
            continue;
        }
        auto x = collect.value(r, "LOCA_NATE", false), y = collect.value(r, "LOCA_NATN", false);
        if (!x || !y) x = collect.value(r, "LOCA_LOCX", false), y = collect.value(r, "LOCA_LOCY", false);
        const auto level = collect.value(r, "LOCA_GL", false), deep = collect.value(r, "LOCA_FDEP", false);
        if (const auto it = first.find(id); it != first.end()) {
            ReportHole& h = *collect.hole(id, r.line, false);
            if (x && y && h.at && distance(*h.at, {*x, *y}) < 0.005 && h.ground_level == level)
                lines.say(r.line, fmt::format("hole {} comes a second time, as in line {}", id, it->second),
                          "remove one of the two rows", Severity::warning);
            else
                damage(report, h, fmt::format("line {}", r.line),
                       fmt::format("a second hole of that name; the first is in line {}", it->second),
                       "give each hole its own name");
            continue;
        }
        first[id] = r.line;
        ReportHole* h = collect.hole(id, r.line, true);
        if (x && y)
            h->at = Point{*x, *y};
        else
            lines.say(r.line, fmt::format("hole {} has no position (LOCA_NATE, LOCA_NATN) and is left out", id),
                      "give its easting and northing in m");
        h->ground_level = level, h->final_depth = deep;
        if (r.broken)
            damage(report, *h, fmt::format("line {}", r.line), "its row is cut by a quotation mark that is not closed",
                   "close it");
    }
}

// One layer, or the damage of its hole.
void read_layer(GroundReport& report, const Row& r, bool last_of_hole, Lines& lines, Collector& collect) {
    const std::string id = r["LOCA_ID"];
    if (id.empty()) {  // a layer is missing somewhere, nobody knows where
        lines.say(r.line, "the row of a layer names no hole, so that no hole is sure to be whole: all are left out",
                  "mend the row");
        for (ReportHole& h : report.holes)
            if (h.damage.empty()) h.damage = fmt::format("line {}: the row of a layer names no hole", r.line);
        return;
    }
    ReportHole* h = collect.hole(id, r.line, false);
    if (!h) return;
    const std::string where = fmt::format("line {}", r.line);
    auto spoilt = [&](const std::string& what, const std::string& mend) { damage(report, *h, where, what, mend); };
    if (r.broken)
        return spoilt("a quotation mark is opened and not closed", "close it; a mark inside a text is doubled");
    for (const char* key : {"GEOL_TOP", "GEOL_BASE", "GEOL_DESC", "GEOL_GEOL"})
        if (r.missing.count(key)) return spoilt(fmt::format("the row is cut short before its {}", key), "complete it");
    const auto top = number(r["GEOL_TOP"]);
    auto base = number(r["GEOL_BASE"]);
    if (!top)
        return spoilt(fmt::format("GEOL_TOP is \"{}\", which is not a number", r["GEOL_TOP"]),
                      "write a plain number in m with a point");
    if (r["GEOL_BASE"].empty() && last_of_hole && h->final_depth && *h->final_depth > *top) {
        base = h->final_depth;
        lines.say(r.line,
                  fmt::format("the last layer of hole {} has no base: the hole's final depth of {:.2f} m is taken", id,
                              *base),
                  "give its base", Severity::warning);
    }
    if (!base)
        return spoilt(fmt::format("GEOL_BASE is \"{}\", which is not a number", r["GEOL_BASE"]),
                      "write a plain number in m with a point");
    if (*base <= *top)
        return spoilt(fmt::format("the layer's base at {:g} m is not below its top at {:g} m", *base, *top),
                      "check the two depths");
    std::string code = r["GEOL_GEOL"];
    if (code.empty()) code = r["GEOL_LEG"];
    if (code.empty()) code = r["GEOL_DESC"].substr(0, 24);
    if (code.empty()) code = "unnamed";
    h->layers.push_back({*top, *base, code, r["GEOL_DESC"]});
}

// Water at rest: of each strike the reading after the longest wait, of several strikes the highest. Without a resting
// level the shallowest strike, and that is said.
void read_water(GroundReport& report, const std::vector<Row>& strikes, const std::vector<Row>& readings, Lines& lines,
                Collector& collect) {
    struct Rest {
        double minutes = -1, depth = 0;
    };
    std::map<std::string, std::map<double, Rest>> rests;  // hole, depth of the strike
    std::map<std::string, std::set<double>> struck;
    for (const Row& r : strikes)
        if (ReportHole* h = collect.hole(r["LOCA_ID"], r.line, false))
            if (const auto d = collect.value(r, "WSTG_DPTH", false)) struck[h->id].insert(*d);
    for (const Row& r : readings)
        if (ReportHole* h = collect.hole(r["LOCA_ID"], r.line, false)) {
            const auto strike = collect.value(r, "WSTG_DPTH", false), d = collect.value(r, "WSTD_POST", false),
                       minutes = collect.value(r, "WSTD_NMIN", false);
            if (!d) continue;
            Rest& rest = rests[h->id][strike.value_or(0)];
            if (minutes.value_or(0) >= rest.minutes) rest = {minutes.value_or(0), *d};
        }
    for (ReportHole& h : report.holes) {
        const size_t n = std::max(struck[h.id].size(), rests[h.id].size());
        const double* strike_used = nullptr;
        for (const auto& [strike, rest] : rests[h.id])
            if (!h.water_depth || rest.depth < *h.water_depth) h.water_depth = rest.depth, strike_used = &strike;
        auto note = [&](const std::string& what) {
            report.problems.push_back({what, "hole " + h.id, "check the water level", Severity::warning, {}});
        };
        if (h.water_depth && n > 1)
            note(
                fmt::format("of {} water strikes the highest resting level counts: {:.2f} m below the ground, of the "
                            "strike at {:.2f} m",
                            n, *h.water_depth, *strike_used));
        if (!h.water_depth && !struck[h.id].empty()) {
            h.water_depth = *struck[h.id].begin();
            note(fmt::format("its water level is a strike at {:.2f} m, not one at rest", *h.water_depth));
        }
    }
}

struct Groups {
    std::map<std::string, std::vector<Row>> rows;
    std::set<std::string> wrong_unit;  // headings that are not in m
};

Groups read_groups(Lines& lines) {
    static const std::set<std::string> in_metres = {"GEOL_TOP",  "GEOL_BASE", "LOCA_GL",   "LOCA_FDEP",
                                                    "LOCA_NATE", "LOCA_NATN", "LOCA_LOCX", "LOCA_LOCY",
                                                    "WSTG_DPTH", "WSTD_POST", "ISPT_TOP"};
    Groups out;
    std::string group;
    std::vector<std::string> headings;
    while (auto line = lines.next(',', true)) {
        if (line->cells.empty()) continue;
        const std::string kind = line->cells[0];
        if (kind == "GROUP") {
            group = line->cells.size() > 1 ? line->cells[1] : "";
            headings.clear();
            if (group.empty()) lines.say(line->number, "a GROUP row names no group", "write its four letters after it");
            if (out.rows.count(group))
                lines.say(line->number, "group " + group + " comes twice", "its rows are read together",
                          Severity::warning);
            out.rows[group];
        } else if (kind == "HEADING") {
            headings = line->cells;
        } else if (kind == "DATA") {
            if (group.empty() || headings.empty()) {
                lines.say(line->number, "a DATA row stands before its GROUP and HEADING", "put them before it");
                continue;
            }
            const bool a_short_layer = group == "GEOL" && line->cells.size() < headings.size();  // judged by its hole
            if (!line->broken && !a_short_layer && line->cells.size() != headings.size())
                lines.say(line->number,
                          fmt::format("it has {} cells, the headings of {} are {}", line->cells.size() - 1, group,
                                      headings.size() - 1),
                          "check its commas and quotation marks; what is there is read", Severity::warning);
            Row row{line->number, line->broken, {}, {}};
            for (size_t k = 1; k < headings.size(); ++k)
                if (k < line->cells.size())
                    row.cells[headings[k]] = line->cells[k];
                else
                    row.missing.insert(headings[k]);
            out.rows[group].push_back(std::move(row));
        } else if (kind == "UNIT") {
            for (size_t k = 1; k < std::min(headings.size(), line->cells.size()); ++k)
                if (in_metres.count(headings[k]) && !line->cells[k].empty() && lower(line->cells[k]) != "m") {
                    lines.say(
                        line->number,
                        fmt::format("{} is given in {}: what rests on it is left out", headings[k], line->cells[k]),
                        "give it in m");
                    out.wrong_unit.insert(headings[k]);
                }
        } else if (kind != "TYPE") {
            lines.say(line->number, fmt::format("it starts with \"{}\"", kind.substr(0, 20)),
                      "a row of AGS4 starts with GROUP, HEADING, UNIT, TYPE or DATA");
        }
    }
    return out;
}

}  // namespace

GroundReport read_ags4(const std::string& bytes) {
    GroundReport report;
    Lines lines(as_utf8(bytes), report.problems);
    Collector collect(report, lines);
    Groups groups = read_groups(lines);
    auto wrong = [&](std::initializer_list<const char*> keys) {
        return std::any_of(keys.begin(), keys.end(), [&](const char* k) { return groups.wrong_unit.count(k) > 0; });
    };
    if (!groups.rows["PROJ"].empty()) report.project = groups.rows["PROJ"][0]["PROJ_NAME"];
    read_locations(report, groups.rows["LOCA"], lines, collect);
    const std::vector<Row>& layers = groups.rows["GEOL"];
    std::map<std::string, int> last;  // row of the deepest layer
    for (size_t i = 0; i < layers.size(); ++i)
        if (const auto top = number(layers[i]["GEOL_TOP"])) {
            const auto it = last.find(layers[i]["LOCA_ID"]);
            if (it == last.end() || *top > number(layers[size_t(it->second)]["GEOL_TOP"]).value_or(0))
                last[layers[i]["LOCA_ID"]] = int(i);
        }
    for (size_t i = 0; i < layers.size(); ++i) {
        const auto it = last.find(layers[i]["LOCA_ID"]);
        read_layer(report, layers[i], it != last.end() && it->second == int(i), lines, collect);
    }
    if (wrong({"GEOL_TOP", "GEOL_BASE", "LOCA_GL", "LOCA_NATE", "LOCA_NATN", "LOCA_LOCX", "LOCA_LOCY"}))
        for (ReportHole& h : report.holes)
            if (h.damage.empty()) h.damage = "a length of the report is not in m";
    if (!wrong({"ISPT_TOP"}))
        for (const Row& r : groups.rows["ISPT"]) {
            ReportHole* h = collect.hole(r["LOCA_ID"], r.line, false);
            const auto top = collect.value(r, "ISPT_TOP", true), N = collect.value(r, "ISPT_NVAL", false);
            if (h && top && N) h->blows.push_back({*top, *N});
        }
    if (!wrong({"WSTG_DPTH", "WSTD_POST"}))
        read_water(report, groups.rows["WSTG"], groups.rows["WSTD"], lines, collect);
    finish(report);
    return report;
}

namespace {

struct CsvTable {
    bool by_level = false;  // bottom_level and no bottom_depth
    std::string hole;       // of the row before
};

// One row of a CSV table: a layer of a hole, or the damage of its hole.
void read_csv_row(GroundReport& report, const Row& r, CsvTable& table, Lines& lines, Collector& collect) {
    const std::string id = r["borehole"];
    if (id.empty()) {  // a layer of somebody's, most likely of the hole above
        lines.say(r.line, "the row names no borehole", "repeat the name in each of its rows");
        if (ReportHole* above = table.hole.empty() ? nullptr : collect.hole(table.hole, r.line, false))
            damage(report, *above, fmt::format("line {}", r.line), "a row below its layers names no borehole",
                   "repeat the name in each of its rows");
        return;
    }
    table.hole = id;
    ReportHole& h = *collect.hole(id, r.line, true);
    const std::string where = fmt::format("line {}", r.line);
    auto spoilt = [&](const std::string& what, const std::string& mend) { damage(report, h, where, what, mend); };
    if (r.broken)
        return spoilt("a quotation mark is opened and not closed", "close it; a mark inside a text is doubled");
    if (r.missing.count("stratum") || r.missing.count("bottom_level") || r.missing.count("bottom_depth"))
        return spoilt("the row is cut short", "complete it");
    const auto x = collect.value(r, "x", !h.at), y = collect.value(r, "y", !h.at);
    if (x && y) {
        if (h.at && distance(*h.at, {*x, *y}) > 0.005)
            return spoilt("the hole stands at another place than in its rows before", "give each hole its own name");
        h.at = Point{*x, *y};
    }
    if (const auto g = collect.value(r, "ground_level", false)) {
        if (h.ground_level && std::abs(*h.ground_level - *g) > 0.005)
            return spoilt("the ground level differs from that of its rows before", "check the two");
        h.ground_level = g;
    }
    auto depth_of = [&](const char* level) -> std::optional<double> {
        const auto v = collect.value(r, level, false);
        return v && h.ground_level ? std::optional(*h.ground_level - *v) : std::nullopt;
    };
    if (const auto w = depth_of("water_level")) h.water_depth = w;
    std::optional<double> base = number(r["bottom_depth"]);
    if (!base && !r["bottom_level"].empty()) {
        if (!h.ground_level)
            return spoilt("levels of layers are given but no ground level to count them from", "give ground_level");
        base = depth_of("bottom_level");
    }
    if (!base)
        return spoilt(fmt::format("the bottom of the layer is \"{}\", which is not a number",
                                  r[table.by_level ? "bottom_level" : "bottom_depth"]),
                      "write a plain number in m with a point");
    const double top = h.layers.empty() ? 0 : h.layers.back().base;
    if (*base <= top)
        return spoilt(
            fmt::format("the layer ends {:g} m below the ground, above the one before it at {:g} m", *base, top),
            "list layers from the top down");
    h.layers.push_back({top, *base, r["stratum"].empty() ? "unnamed" : r["stratum"], r["description"]});
}

// What people write over the columns of such a table, by the key that is meant.
const std::map<std::string, std::string>& borehole_words() {
    static const std::map<std::string, std::string> all = [] {
        std::map<std::string, std::string> m;
        auto add = [&](const char* key, std::initializer_list<const char*> words) {
            for (const char* w : words) m[w] = key;
        };
        add("borehole", {"borehole", "borehole id", "borehole name", "bh", "bh id", "hole", "hole id", "boring",
                         "loca id", "location"});
        add("x", {"x", "easting", "east", "loca nate"});
        add("y", {"y", "northing", "north", "loca natn"});
        add("ground_level", {"ground level", "gl", "ground", "surface level", "elevation", "loca gl"});
        add("water_level", {"water level", "water", "groundwater", "groundwater level", "gwl"});
        add("stratum", {"stratum", "strata", "geology", "geology code", "layer", "soil", "geol geol"});
        add("bottom_level", {"bottom level", "base level", "level of base"});
        add("bottom_depth", {"bottom depth", "base depth", "depth to base", "depth of base", "geol base"});
        add("description", {"description", "desc", "geol desc"});
        return m;
    }();
    return all;
}

struct BoreholeHead {
    std::string key;
    double factor = 1;  // to m
};
BoreholeHead borehole_head(const std::string& text) {
    BoreholeHead h;
    std::string words = lower(text);
    if (const size_t open = words.find_first_of("[("); open != words.npos) {
        const size_t close = words.find_first_of("])", open);
        if (const auto u = unit_of(text.substr(open + 1, close == words.npos ? close : close - open - 1));
            u && u->of == Dimension::length)
            h.factor = u->factor;
        words.resize(open);
    }
    std::replace_if(
        words.begin(), words.end(), [](char c) { return c == '_' || c == '-' || c == '.'; }, ' ');
    const auto it = borehole_words().find(trimmed(words));
    h.key = it == borehole_words().end() ? lower(text) : it->second;
    return h;
}
bool is_length(const std::string& key) {
    return key == "x" || key == "y" || key == "ground_level" || key == "water_level" || key == "bottom_level" ||
           key == "bottom_depth";
}

}  // namespace

GroundReport read_borehole_table(const CellTable& cells) {
    GroundReport report;
    report.problems = cells.problems;
    Lines lines("", report.problems);
    Collector collect(report, lines);
    // The row that names most, of the first thirty; titles may stand above it.
    size_t head_row = 0;
    int most = 0;
    for (size_t k = 0; k < cells.rows.size() && k < 30; ++k) {
        int known = 0;
        for (const std::string& c : cells.rows[k].cells)
            known += borehole_words().count(borehole_head(c).key) || is_length(borehole_head(c).key);
        if (known > most) most = known, head_row = k;
    }
    while (most == 0 && head_row < cells.rows.size() && cells.rows[head_row].is_empty()) ++head_row;
    if (head_row >= cells.rows.size()) {
        finish(report);
        return report;
    }
    std::vector<BoreholeHead> heads;
    for (const std::string& c : cells.rows[head_row].cells) heads.push_back(borehole_head(c));
    auto has = [&](const std::string& key) {
        return std::any_of(heads.begin(), heads.end(), [&](const BoreholeHead& h) { return h.key == key; });
    };
    for (const char* wanted : {"borehole", "x", "y", "stratum"})
        if (!has(wanted)) {
            lines.say(cells.rows[head_row].line, fmt::format("the header has no column \"{}\"", wanted),
                      "name the columns borehole, x, y, ground_level, water_level, stratum, bottom_level");
            return report;
        }
    if (!has("bottom_level") && !has("bottom_depth")) {
        lines.say(cells.rows[head_row].line, "the header has neither bottom_level nor bottom_depth",
                  "give one of the two, in m");
        return report;
    }
    std::vector<std::string> texts;
    for (size_t k = head_row + 1; k < cells.rows.size(); ++k)
        for (size_t c = 0; c < heads.size(); ++c)
            if (is_length(heads[c].key)) texts.push_back(cells.rows[k].at(c));
    const NumberHabit habit = habit_of(texts, cells.separator);
    CsvTable table;
    table.by_level = !has("bottom_depth");
    for (size_t k = head_row + 1; k < cells.rows.size(); ++k) {
        const CellRow& row = cells.rows[k];
        if (row.is_empty()) continue;
        Row r{row.line, row.is_broken, {}, {}};
        for (size_t c = 0; c < heads.size(); ++c) {
            if (c >= row.cells.size() && !cells.is_sheet) {
                r.missing.insert(heads[c].key);
                continue;
            }
            const auto v = is_length(heads[c].key) ? read_number(row.at(c), habit) : std::nullopt;
            r.cells[heads[c].key] = v ? fmt::format("{}", std::round(*v * heads[c].factor * 1e9) / 1e9) : row.at(c);
        }
        read_csv_row(report, r, table, lines, collect);
    }
    finish(report);
    return report;
}

GroundReport read_borehole_csv(const std::string& bytes) { return read_borehole_table(read_cells(as_utf8(bytes))); }

GroundReport read_ground_report(const std::string& bytes) {
    if (is_sheet_file(bytes)) return read_borehole_table(read_sheet(bytes));
    const std::string text = as_utf8(bytes), start = text.substr(0, 4000);
    const size_t first = start.find_first_not_of(" \t\r\n");
    if (first != std::string::npos && (start.compare(first, 3, "\"**") == 0 || start.compare(first, 2, "**") == 0)) {
        GroundReport report;
        report.problems.push_back({"this is a file of AGS 3, an older format, which is not read",
                                   "the file",
                                   "have it written as AGS 4",
                                   Severity::error,
                                   {}});
        return report;
    }
    return start.find("GROUP") != std::string::npos ? read_ags4(text) : read_borehole_csv(text);
}

Point place_of(Point at, const Placing& p) { return turned(at - p.origin, -p.turn); }

Placing likely_placing(const GroundReport& report, const Model& model) {
    Placing p;
    Box holes, slab;
    for (const ReportHole& h : report.holes)
        if (h.at && !h.layers.empty()) holes.add(*h.at);
    for (Point q : outer_rim(model.slab.outline, 1.0)) slab.add(q);
    if (holes.empty()) return p;
    if (slab.empty()) {  // nothing is drawn yet: holes far from the origin come to lie beside it
        const double reach = std::max({holes.width(), holes.height(), 100.0});
        if (length(holes.middle()) > 10 * reach) p.origin = {std::floor(holes.low.x), std::floor(holes.low.y)};
        return p;
    }
    const double reach = std::max({slab.width(), slab.height(), holes.width(), holes.height(), 10.0});
    const Point away = holes.middle() - slab.middle();
    if (length(away) > 3 * reach) p.origin = {std::round(away.x), std::round(away.y)};
    return p;
}

Stratum propose_stratum(const std::string& id, const ReportCode& code) {
    Stratum s;
    s.id = id;
    s.description = code.description;
    const std::string words = lower(code.description + " " + id);
    auto speaks_of = [&](std::initializer_list<const char*> list) {
        return std::any_of(list.begin(), list.end(), [&](const char* w) { return words.find(w) != std::string::npos; });
    };
    // The main soil stands in capitals in a description; without them the first of the words found decides.
    auto capital = [&](const char* w) { return code.description.find(w) != std::string::npos; };
    bool fine = speaks_of({"clay", "silt", "peat"});
    if (capital("CLAY") || capital("SILT"))
        fine = true;
    else if (capital("SAND") || capital("GRAVEL"))
        fine = false;
    s.nu = fine ? 0.35 : 0.3;
    s.unit_weight = fine ? 17.5 : 18, s.saturated_unit_weight = fine ? 18 : 20;
    if (code.mean_blows && *code.mean_blows >= 1) {
        const double N = *code.mean_blows;
        if (fine) {
            const double confined = 0.45 * N;
            s.E = confined * (1 + s.nu) * (1 - 2 * s.nu) / (1 - s.nu);
            s.E_basis = fmt::format(
                "proposal: E from E_oed = 0.45·N = {:.1f} MPa with Poisson's ratio {:.2f}, mean N = {:.0f} (Stroud and "
                "Butler 1975)",
                confined, s.nu, N);
        } else {
            s.E = N;
            s.E_basis = fmt::format("proposal: E = 1.0·N, mean N = {:.0f} (Stroud 1989)", N);
        }
        s.E = std::round(s.E * 10) / 10;
    } else {
        s.E_basis = "placeholder: the report has no blow counts in this stratum";
    }
    return s;
}

std::string reason_left_out(const ReportHole& h, const Model& model) {
    if (!h.damage.empty()) return h.damage;
    if (!h.at) return "it has no position";
    if (h.layers.empty()) return "it has no layers";
    if (!h.ground_level && !model.ground.ground_level)
        return "it has no ground level, and neither has the model, so that its depths are no levels";
    return "";
}

namespace {
std::string stratum_of(const Placing& placing, const std::string& code) {
    const auto it = placing.stratum_of.find(code);
    return it == placing.stratum_of.end() || it->second.empty() ? code : it->second;
}
}  // namespace

std::vector<Problem> problems_of_taking(const GroundReport& report, const Placing& placing, const Model& model) {
    std::vector<Problem> found;
    auto say = [&](Severity severity, std::string where, std::string what, std::string mend) {
        found.push_back({std::move(what), std::move(where), std::move(mend), severity, {}});
    };
    for (const ReportHole& h : report.holes) {
        const std::string where = "hole " + h.id;
        if (const std::string why = reason_left_out(h, model); !why.empty()) {
            if (h.damage.empty() && h.at && !h.layers.empty())  // the others were told when the report was read
                say(Severity::error, where, why + ": it is left out",
                    "give its ground level in the report, or ground.ground_level in the model");
            continue;
        }
        if (!h.ground_level)
            say(Severity::warning, where,
                fmt::format("it has no ground level: the model's {:.2f} m is taken", *model.ground.ground_level),
                "give its own");
        if (find_id(model.ground.boreholes, h.id))
            say(Severity::warning, where, "it replaces the model's borehole of that name",
                "rename one of the two to keep both");
    }
    for (const ReportCode& c : report.codes) {
        const auto told = placing.stratum_of.find(c.code);
        const bool by_its_own_name = told == placing.stratum_of.end() || told->second.empty() || told->second == c.code;
        if (const Stratum* s = find_id(model.ground.strata, c.code); s && by_its_own_name)
            say(Severity::warning, "code " + c.code,
                fmt::format("the model has a stratum of that name (E {:g} MPa), which is kept as it is", s->E),
                "give the code another stratum if that is not the same ground");
    }
    for (const auto& [code, stratum] : placing.stratum_of) {
        const bool used = std::any_of(report.codes.begin(), report.codes.end(),
                                      [&, &code = code](const ReportCode& c) { return c.code == code; });
        std::string known;
        for (const ReportCode& c : report.codes) known += (known.empty() ? "" : ", ") + c.code;
        if (!used)
            say(Severity::error, "code " + code, "no layer of the report has this code",
                "name one of " + (known.empty() ? "its codes; it has none" : known));
        else if (stratum != code && !stratum.empty() && !find_id(model.ground.strata, stratum))
            say(Severity::warning, "code " + code,
                fmt::format("the model has no stratum \"{}\": it is made anew", stratum),
                "check its name, if one that exists is meant");
    }
    return found;
}

Model with_report(Model model, const GroundReport& report, const Placing& placing) {
    std::set<std::string> needed;
    for (const ReportHole& h : report.holes)
        if (reason_left_out(h, model).empty())
            for (const ReportLayer& l : h.layers) needed.insert(l.code);
    for (const ReportCode& c : report.codes)
        if (const std::string id = stratum_of(placing, c.code);
            needed.count(c.code) && !find_id(model.ground.strata, id))
            model.ground.strata.push_back(propose_stratum(id, c));
    for (const ReportHole& h : report.holes) {
        if (!reason_left_out(h, model).empty()) continue;
        Borehole b;
        b.id = h.id;
        b.at = place_of(*h.at, placing);
        b.at = {std::round(b.at.x * 1000) / 1000, std::round(b.at.y * 1000) / 1000};
        const double ground = h.ground_level ? *h.ground_level : *model.ground.ground_level;
        b.ground_level = ground;
        auto level = [&](double depth) { return std::round((ground - depth) * 1000) / 1000; };
        if (h.water_depth) b.water_level = level(*h.water_depth);
        for (const ReportLayer& l : h.layers) {
            const std::string id = stratum_of(placing, l.code);
            if (!b.layers.empty() && b.layers.back().stratum == id)
                b.layers.back().bottom = level(l.base);
            else
                b.layers.push_back({id, level(l.base), {}});
        }
        for (auto [z, N] : h.blows) b.blow_counts.push_back({level(z), N, {}});
        if (Borehole* old = find_id(model.ground.boreholes, b.id))
            *old = b;
        else
            model.ground.boreholes.push_back(b);
    }
    return model;
}

}  // namespace mossbed
