#include "core/file/ground_report.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

namespace mossbed {
namespace {

std::string trimmed(std::string s) {
    const char* blank = " \t\r\n";
    const size_t a = s.find_first_not_of(blank);
    if (a == std::string::npos) return "";
    return s.substr(a, s.find_last_not_of(blank) - a + 1);
}
std::string lower(std::string s) {
    std::transform(s.begin(), s.end(), s.begin(), [](unsigned char c) { return char(std::tolower(c)); });
    return s;
}
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
};

class Lines {
  public:
    Lines(const std::string& text, std::vector<Problem>& problems) : problems_(problems) {
        size_t at = text.rfind("\xEF\xBB\xBF", 0) == 0 ? 3 : 0;
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
            Line out{n, {}};
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
                        out.cells.clear();
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

void finish(GroundReport& report) {
    for (ReportHole& h : report.holes) {
        std::stable_sort(h.layers.begin(), h.layers.end(),
                         [](const ReportLayer& a, const ReportLayer& b) { return a.top < b.top; });
        for (size_t k = 0; k < h.layers.size(); ++k) {
            const double above = k == 0 ? 0 : h.layers[k - 1].base;
            if (std::abs(h.layers[k].top - above) > 0.01)
                report.problems.push_back(
                    {fmt::format("between {:.2f} m and {:.2f} m its layers {}", std::min(above, h.layers[k].top),
                                 std::max(above, h.layers[k].top), h.layers[k].top > above ? "leave a gap" : "overlap"),
                     "hole " + h.id,
                     "the base of each layer counts, and the next one starts there",
                     Severity::warning,
                     {}});
        }
        std::erase_if(h.layers, [&, above = 0.0](const ReportLayer& l) mutable {
            if (l.base <= above + 1e-9) return true;
            above = l.base;
            return false;
        });
    }
    std::stable_sort(report.holes.begin(), report.holes.end(),
                     [](const ReportHole& a, const ReportHole& b) { return a.layers.size() > 0 && b.layers.empty(); });
    std::map<std::string, double> depth, thickest, blows;
    std::map<std::string, int> tests;
    for (const ReportHole& h : report.holes)
        for (const ReportLayer& l : h.layers) {
            auto it = std::find_if(report.codes.begin(), report.codes.end(),
                                   [&](const ReportCode& c) { return c.code == l.code; });
            if (it == report.codes.end()) it = report.codes.insert(it, {l.code, "", 0, 0, {}});
            ++it->layers, it->thickness += l.base - l.top;
            depth[l.code] += l.top;
            if (l.base - l.top > thickest[l.code]) thickest[l.code] = l.base - l.top, it->description = l.description;
            for (auto [z, N] : h.blows)
                if (z >= l.top && z < l.base) blows[l.code] += N, ++tests[l.code];
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

GroundReport read_ags4(const std::string& text) {
    GroundReport report;
    Lines lines(text, report.problems);
    Collector collect(report, lines);
    std::map<std::string, std::vector<Row>> groups;
    std::string group;
    std::vector<std::string> headings;
    while (auto line = lines.next(',', true)) {
        if (line->cells.empty()) continue;
        const std::string kind = line->cells[0];
        if (kind == "GROUP") {
            group = line->cells.size() > 1 ? line->cells[1] : "";
            headings.clear();
            if (group.empty()) lines.say(line->number, "a GROUP row names no group", "write its four letters after it");
            if (groups.count(group))
                lines.say(line->number, "group " + group + " comes twice", "its rows are read together",
                          Severity::warning);
            groups[group];
        } else if (kind == "HEADING") {
            headings = line->cells;
        } else if (kind == "DATA") {
            if (group.empty() || headings.empty()) {
                lines.say(line->number, "a DATA row stands before its GROUP and HEADING", "put them before it");
                continue;
            }
            if (line->cells.size() != headings.size())
                lines.say(line->number,
                          fmt::format("it has {} cells, the headings of {} are {}", line->cells.size() - 1, group,
                                      headings.size() - 1),
                          "check its commas and quotation marks; what is there is read", Severity::warning);
            Row row{line->number, {}};
            for (size_t k = 1; k < std::min(headings.size(), line->cells.size()); ++k)
                row.cells[headings[k]] = line->cells[k];
            groups[group].push_back(std::move(row));
        } else if (kind == "UNIT") {
            for (size_t k = 1; k < std::min(headings.size(), line->cells.size()); ++k)
                if ((headings[k] == "GEOL_TOP" || headings[k] == "GEOL_BASE" || headings[k] == "LOCA_GL") &&
                    !line->cells[k].empty() && lower(line->cells[k]) != "m")
                    lines.say(line->number, fmt::format("{} is given in {}", headings[k], line->cells[k]),
                              "give it in m");
        } else if (kind != "TYPE") {
            lines.say(line->number, fmt::format("it starts with \"{}\"", kind.substr(0, 20)),
                      "a row of AGS4 starts with GROUP, HEADING, UNIT, TYPE or DATA");
        }
    }
    if (!groups["PROJ"].empty()) report.project = groups["PROJ"][0]["PROJ_NAME"];
    for (const Row& r : groups["LOCA"]) {
        const std::string id = r["LOCA_ID"];
        if (id.empty()) {
            lines.say(r.line, "LOCA_ID is empty", "give the hole a name");
            continue;
        }
        ReportHole* h = collect.hole(id, r.line, true);
        auto x = collect.value(r, "LOCA_NATE", false), y = collect.value(r, "LOCA_NATN", false);
        if (!x || !y) x = collect.value(r, "LOCA_LOCX", false), y = collect.value(r, "LOCA_LOCY", false);
        if (x && y)
            h->at = Point{*x, *y};
        else
            lines.say(r.line, fmt::format("hole {} has no position (LOCA_NATE, LOCA_NATN)", id),
                      "give its easting and northing in m");
        h->ground_level = collect.value(r, "LOCA_GL", false);
    }
    for (const Row& r : groups["GEOL"]) {
        ReportHole* h = collect.hole(r["LOCA_ID"], r.line, false);
        const auto top = collect.value(r, "GEOL_TOP", true), base = collect.value(r, "GEOL_BASE", true);
        if (!h || !top || !base) continue;
        if (*base <= *top) {
            lines.say(r.line, fmt::format("the layer's base at {:g} m is not below its top at {:g} m", *base, *top),
                      "check the two depths");
            continue;
        }
        std::string code = r["GEOL_GEOL"];
        if (code.empty()) code = r["GEOL_LEG"];
        if (code.empty()) code = r["GEOL_DESC"].substr(0, 24);
        if (code.empty()) code = "unnamed";
        h->layers.push_back({*top, *base, code, r["GEOL_DESC"]});
    }
    for (const Row& r : groups["ISPT"]) {
        ReportHole* h = collect.hole(r["LOCA_ID"], r.line, false);
        const auto top = collect.value(r, "ISPT_TOP", true), N = collect.value(r, "ISPT_NVAL", false);
        if (h && top && N) h->blows.push_back({*top, *N});
    }
    for (const Row& r : groups["WSTG"])
        if (ReportHole* h = collect.hole(r["LOCA_ID"], r.line, false))
            if (const auto d = collect.value(r, "WSTG_DPTH", false); d && (!h->water_depth || *d < *h->water_depth))
                h->water_depth = d;
    std::map<std::string, double> longest;  // the level after the longest wait is nearest to rest
    for (const Row& r : groups["WSTD"])
        if (ReportHole* h = collect.hole(r["LOCA_ID"], r.line, false)) {
            const auto d = collect.value(r, "WSTD_POST", false), minutes = collect.value(r, "WSTD_NMIN", false);
            if (d && minutes.value_or(0) >= longest[h->id]) h->water_depth = d, longest[h->id] = minutes.value_or(0);
        }
    finish(report);
    return report;
}

GroundReport read_borehole_csv(const std::string& text) {
    GroundReport report;
    const std::string head = text.substr(0, text.find('\n'));
    char separator = ',';
    for (char c : {';', '\t'})
        if (std::count(head.begin(), head.end(), c) > std::count(head.begin(), head.end(), separator)) separator = c;
    Lines lines(text, report.problems);
    Collector collect(report, lines);
    std::vector<std::string> headings;
    auto has = [&](const char* key) { return std::find(headings.begin(), headings.end(), key) != headings.end(); };
    while (auto line = lines.next(separator, false)) {
        if (headings.empty()) {
            for (const std::string& c : line->cells) headings.push_back(lower(c));
            for (const char* wanted : {"borehole", "x", "y", "stratum"})
                if (!has(wanted)) {
                    lines.say(line->number, fmt::format("the header has no column \"{}\"", wanted),
                              "name the columns borehole, x, y, ground_level, water_level, stratum, bottom_level");
                    return report;
                }
            if (!has("bottom_level") && !has("bottom_depth")) {
                lines.say(line->number, "the header has neither bottom_level nor bottom_depth",
                          "give one of the two, in m");
                return report;
            }
            continue;
        }
        Row r{line->number, {}};
        for (size_t k = 0; k < std::min(headings.size(), line->cells.size()); ++k)
            r.cells[headings[k]] = line->cells[k];
        const std::string id = r["borehole"];
        if (id.empty()) {
            lines.say(r.line, "the borehole has no name", "give one in its first column");
            continue;
        }
        ReportHole* h = collect.hole(id, r.line, true);
        const auto x = collect.value(r, "x", !h->at), y = collect.value(r, "y", !h->at);
        if (x && y) h->at = Point{*x, *y};
        if (const auto g = collect.value(r, "ground_level", false)) h->ground_level = g;
        const double ground = h->ground_level.value_or(0);
        if (const auto w = collect.value(r, "water_level", false)) h->water_depth = ground - *w;
        std::optional<double> base;
        if (has("bottom_depth")) base = collect.value(r, "bottom_depth", !has("bottom_level"));
        if (!base && has("bottom_level"))
            if (const auto b = collect.value(r, "bottom_level", true)) base = ground - *b;
        if (!base) continue;
        const double top = h->layers.empty() ? 0 : h->layers.back().base;
        if (*base <= top) {
            lines.say(
                r.line,
                fmt::format("the layer ends {:g} m below the ground, above the one before it at {:g} m", *base, top),
                "list layers from the top down");
            continue;
        }
        h->layers.push_back({top, *base, r["stratum"].empty() ? "unnamed" : r["stratum"], r["description"]});
    }
    finish(report);
    return report;
}

GroundReport read_ground_report(const std::string& text) {
    const std::string start = text.substr(0, 4000);
    return start.find("GROUP") != std::string::npos ? read_ags4(text) : read_borehole_csv(text);
}

Placing likely_placing(const GroundReport& report, const Model& model) {
    Placing p;
    Box holes, slab;
    for (const ReportHole& h : report.holes)
        if (h.at && !h.layers.empty()) holes.add(*h.at);
    for (Point q : outer_rim(model.slab.outline, 1.0)) slab.add(q);
    if (holes.empty() || slab.empty()) return p;
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
            s.E_basis = fmt::format("proposal: E_oed = 0.45·N, mean N = {:.0f} (Stroud and Butler 1975)", N);
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

Model with_report(Model model, const GroundReport& report, const Placing& placing) {
    auto name_of_code = [&](const std::string& code) {
        const auto it = placing.stratum_of.find(code);
        return it == placing.stratum_of.end() || it->second.empty() ? code : it->second;
    };
    for (const ReportCode& c : report.codes)
        if (const std::string id = name_of_code(c.code); !find_id(model.ground.strata, id))
            model.ground.strata.push_back(propose_stratum(id, c));
    for (const ReportHole& h : report.holes) {
        if (!h.at || h.layers.empty()) continue;
        Borehole b;
        b.id = h.id;
        b.at = turned(*h.at - placing.origin, -placing.turn);
        b.at = {std::round(b.at.x * 1000) / 1000, std::round(b.at.y * 1000) / 1000};
        b.ground_level = h.ground_level;
        const double ground = h.ground_level.value_or(model.ground.ground_level.value_or(0));
        auto level = [&](double depth) { return std::round((ground - depth) * 1000) / 1000; };
        if (h.water_depth) b.water_level = level(*h.water_depth);
        for (const ReportLayer& l : h.layers) {
            const std::string id = name_of_code(l.code);
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
