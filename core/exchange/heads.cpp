#include "core/exchange/heads.h"

#include <algorithm>
#include <map>

#include "core/exchange/numbers.h"

namespace mossbed {
namespace {

constexpr double foot = 0.3048, pound = 0.0044482216152605;

std::string without(std::string s, std::initializer_list<std::string_view> marks) {
    for (std::string_view m : marks)
        for (size_t at; (at = s.find(m)) != s.npos;) s.erase(at, m.size());
    return s;
}

}  // namespace

std::optional<WrittenUnit> unit_of(const std::string& text) {
    static const std::map<std::string, std::pair<Dimension, double>> known{
        {"m", {Dimension::length, 1}},
        {"mm", {Dimension::length, 1e-3}},
        {"cm", {Dimension::length, 1e-2}},
        {"in", {Dimension::length, foot / 12}},
        {"inch", {Dimension::length, foot / 12}},
        {"inches", {Dimension::length, foot / 12}},
        {"\"", {Dimension::length, foot / 12}},
        {"\u2033", {Dimension::length, foot / 12}},
        {"ft", {Dimension::length, foot}},
        {"feet", {Dimension::length, foot}},
        {"'", {Dimension::length, foot}},
        {"\u2032", {Dimension::length, foot}},
        {"n", {Dimension::force, 1e-3}},
        {"kn", {Dimension::force, 1}},
        {"mn", {Dimension::force, 1e3}},
        {"kip", {Dimension::force, 1000 * pound}},
        {"kips", {Dimension::force, 1000 * pound}},
        {"k", {Dimension::force, 1000 * pound}},
        {"lb", {Dimension::force, pound}},
        {"lbs", {Dimension::force, pound}},
        {"lbf", {Dimension::force, pound}},
        {"tf", {Dimension::force, 9.80665}},
        {"nm", {Dimension::moment, 1e-3}},
        {"knm", {Dimension::moment, 1}},
        {"mnm", {Dimension::moment, 1e3}},
        {"knmm", {Dimension::moment, 1e-3}},
        {"kncm", {Dimension::moment, 1e-2}},
        {"nmm", {Dimension::moment, 1e-6}},
        {"kipft", {Dimension::moment, 1000 * pound * foot}},
        {"kipsft", {Dimension::moment, 1000 * pound * foot}},
        {"kft", {Dimension::moment, 1000 * pound * foot}},
        {"ftkip", {Dimension::moment, 1000 * pound * foot}},
        {"ftkips", {Dimension::moment, 1000 * pound * foot}},
        {"ftk", {Dimension::moment, 1000 * pound * foot}},
        {"kipin", {Dimension::moment, 1000 * pound * foot / 12}},
        {"kin", {Dimension::moment, 1000 * pound * foot / 12}},
        {"inkip", {Dimension::moment, 1000 * pound * foot / 12}},
        {"lbft", {Dimension::moment, pound * foot}},
        {"lbfft", {Dimension::moment, pound * foot}},
        {"ftlb", {Dimension::moment, pound * foot}},
        {"ftlbf", {Dimension::moment, pound * foot}},
        {"lbin", {Dimension::moment, pound * foot / 12}},
        {"inlb", {Dimension::moment, pound * foot / 12}},
        {"tfm", {Dimension::moment, 9.80665}},
        {"deg", {Dimension::angle, 1}},
        {"degrees", {Dimension::angle, 1}},
        {"degree", {Dimension::angle, 1}},
        {"°", {Dimension::angle, 1}},
        {"rad", {Dimension::angle, 57.295779513082323}},
        {"radians", {Dimension::angle, 57.295779513082323}}};
    const std::string shown = trimmed(text);
    const std::string plain = lower(without(shown, {" ", "·", "⋅", "*", ".", "-", "×", "\u2011", "/"}));
    const auto it = known.find(plain);
    if (it == known.end()) return {};
    if (plain.rfind("mn", 0) == 0 && shown[0] == 'm') return {};  // millinewtons are nobody's
    return WrittenUnit{shown, it->second.first, it->second.second};
}

const char* name_of(Holds holds) {
    static constexpr std::array names{"left out", "name",      "x",    "y", "shape", "size", "size x", "size y",
                                      "diameter", "turned by", "case", "N", "Mx",    "My",   "Hx",     "Hy"};
    return names[size_t(holds)];
}

Dimension dimension_of(Holds h) {
    switch (h) {
        case Holds::x:
        case Holds::y:
        case Holds::size:
        case Holds::width:
        case Holds::depth:
        case Holds::diameter:
            return Dimension::length;
        case Holds::angle:
            return Dimension::angle;
        case Holds::N:
        case Holds::Hx:
        case Holds::Hy:
            return Dimension::force;
        case Holds::Mx:
        case Holds::My:
            return Dimension::moment;
        default:
            return Dimension::none;
    }
}

namespace {

const std::map<std::string, Holds>& words() {
    static const std::map<std::string, Holds> all = [] {
        std::map<std::string, Holds> m;
        auto add = [&](Holds h, std::initializer_list<const char*> list) {
            for (const char* w : list) m[w] = h;
        };
        add(Holds::name,
            {"id",          "name",        "column",  "column id",   "column name", "column no",     "column mark",
             "columns",     "col",         "col id",  "joint",       "joint id",    "joint name",    "joint label",
             "node",        "node id",     "node no", "node number", "mark",        "label",         "support",
             "no",          "nr",          "number",  "ref",         "column nr",   "column number", "point",
             "point label", "unique name", "element"});
        add(Holds::x, {"x", "xcoord", "x coord", "x coordinate", "coord x", "coordinate x", "global x", "x global",
                       "pos x", "x pos", "position x", "x position", "easting", "east", "x ord"});
        add(Holds::y, {"y", "ycoord", "y coord", "y coordinate", "coord y", "coordinate y", "global y", "y global",
                       "pos y", "y pos", "position y", "y position", "northing", "north", "y ord"});
        add(Holds::shape, {"shape", "form", "section shape", "column shape", "section type"});
        add(Holds::size, {"size", "section", "column size", "dimensions", "dimension", "dims", "dim", "cross section",
                          "column section"});
        add(Holds::width, {"width", "b", "size x", "x size", "dim x", "bx", "cx", "lx", "c1", "width x", "x width",
                           "size 1", "column width", "breadth"});
        add(Holds::depth, {"depth", "h", "size y", "y size", "dim y", "by", "cy", "ly", "c2", "width y", "y width",
                           "size 2", "column depth"});
        add(Holds::diameter, {"diameter", "dia", "diam", "ø", "Ø", "⌀", "column diameter"});
        add(Holds::angle, {"angle", "rotation", "rot", "turned", "turned by", "orientation", "theta", "skew"});
        add(Holds::load_case, {"case", "load case", "loadcase", "lc", "load", "load pattern", "case name",
                               "load case name", "output case", "action"});
        add(Holds::N, {"n", "fz", "p", "axial", "axial force", "axial load", "force z", "f z", "nz", "vertical",
                       "vertical force", "rz", "pz"});
        add(Holds::Mx, {"mx", "m x", "mxx", "moment x", "moment about x"});
        add(Holds::My, {"my", "m y", "myy", "moment y", "moment about y"});
        add(Holds::Hx, {"hx", "h x", "fx", "f x", "vx", "v x", "shear x", "force x", "horizontal x", "rx", "px"});
        add(Holds::Hy, {"hy", "h y", "fy", "f y", "vy", "v y", "shear y", "force y", "horizontal y", "ry", "py"});
        return m;
    }();
    return all;
}
Holds word(const std::string& text) {
    std::string plain;
    for (char c : lower(trimmed(text))) {
        const char d = c == '_' || c == '-' || c == '.' || c == ':' || c == '#' || c == '/' || c == '\n' ? ' ' : c;
        if (d != ' ' || (!plain.empty() && plain.back() != ' ')) plain += d;
    }
    while (!plain.empty() && plain.back() == ' ') plain.pop_back();
    const auto it = words().find(plain);
    return it == words().end() ? Holds::nothing : it->second;
}
Holds component(const std::string& text) {
    const Holds h = word(text);
    return is_component(h) ? h : Holds::nothing;
}

// The parts of a head that words stand in, blanks, colons, underscores and brackets between them. A minus, a point or
// a stroke may belong to the name of a case, so they part only where nothing else does.
std::vector<std::string> parts(const std::string& text, const char* marks) {
    std::vector<std::string> out;
    std::string part;
    for (char c : text + ' ') {
        if (std::string_view(marks).find(c) == std::string_view::npos) {
            part += c;
            continue;
        }
        if (!trimmed(part).empty()) out.push_back(trimmed(part));
        part.clear();
    }
    return out;
}

enum class Order : char { case_first, component_first };

// What a head could be; of a component of a case in both orders, since "P N" and "N P" are only told apart by the rest.
struct Reading {
    Head head;
    std::optional<Head> other;  // the component stands first
};

Reading read_words(const std::string& text, std::optional<WrittenUnit> unit) {
    Head h{text, word(text), {}, std::move(unit)};
    if (h.holds != Holds::nothing) return {h, {}};
    for (const char* marks : {" :_()\n", " :_()\n-/.,"}) {
        std::vector<std::string> p = parts(text, marks);
        std::erase_if(p, [](const std::string& part) { return part == "-" || part == "–" || part == "="; });
        if (p.size() < 2) continue;
        auto joined = [&](size_t from, size_t to) {
            const size_t a = text.find(p[from]);
            size_t b = a;
            for (size_t k = from; k < to; ++k) b = text.find(p[k], b) + p[k].size();
            return text.substr(a, b - a);
        };
        // "x mm", "Axial kN": a unit after a word, without brackets. "P N" is a case P all the same.
        if (auto u = unit_of(p.back()); u && !h.unit && p.back().size() > 1)
            if (const Head of{text, word(joined(0, p.size() - 1)), {}, u};
                of.holds != Holds::nothing && dimension_of(of.holds) == u->of)
                return {of, {}};
        Head last = h, first = h;
        if (const Holds c = component(p.back()); c != Holds::nothing)
            last.holds = c, last.load_case = joined(0, p.size() - 1);
        if (const Holds c = component(p.front()); c != Holds::nothing)
            first.holds = c, first.load_case = joined(1, p.size());
        if (last.holds != Holds::nothing && first.holds != Holds::nothing) return {last, first};
        if (last.holds != Holds::nothing) return {last, {}};
        if (first.holds != Holds::nothing) return {h, first};
    }
    return {h, {}};
}

Reading read_head(const std::string& raw) {
    // A unit in square brackets, or in round ones where they hold one, or after a comma.
    std::string text = trimmed(raw);
    std::optional<WrittenUnit> unit;
    std::string without_unit = text;
    for (auto [open, close] : {std::pair{'[', ']'}, {'(', ')'}, {'{', '}'}}) {
        const size_t to = without_unit.rfind(close), from = to == text.npos ? to : without_unit.rfind(open, to);
        if (unit || from == text.npos || from == 0) continue;
        if (auto u = unit_of(without_unit.substr(from + 1, to - from - 1)))
            unit = u, without_unit = trimmed(without_unit.substr(0, from) + " " + without_unit.substr(to + 1));
    }
    if (const size_t comma = without_unit.rfind(','); !unit && comma != text.npos)
        if (auto u = unit_of(without_unit.substr(comma + 1))) unit = u, without_unit = trimmed(text.substr(0, comma));
    Reading r = read_words(without_unit, unit);
    // "G (N)": nothing but the bracket can be the component.
    if (r.head.holds == Holds::nothing && !r.other && unit && unit->of == Dimension::force) {
        Reading whole = read_words(text, {});
        if (is_component(whole.head.holds)) r = whole;
    }
    r.head.text = text;
    if (r.other) r.other->text = text;
    return r;
}

bool is_number(const std::string& text) {
    NumberHabit any;
    any.is_mixed = true;
    return read_number(text, any).has_value() || reads_both_ways(text);
}

// Heads of one row; how many were understood.
std::vector<Reading> read_row(const CellRow& row, int& understood) {
    std::vector<Reading> out;
    understood = 0;
    for (const std::string& c : row.cells) {
        out.push_back(c.empty() ? Reading{} : read_head(c));
        understood += out.back().head.holds != Holds::nothing || out.back().other;
    }
    return out;
}

std::vector<Head> decided(std::vector<Reading> readings) {
    long component_first = 0, case_first = 0;
    for (const Reading& r : readings)
        if (r.head.holds == Holds::nothing && r.other)
            ++component_first;
        else if (is_component(r.head.holds) && !r.head.load_case.empty() && !r.other)
            ++case_first;
    std::vector<Head> out;
    for (Reading& r : readings)
        out.push_back(r.other && (r.head.holds == Holds::nothing || component_first > case_first) ? *r.other : r.head);
    return out;
}

// Cases over their components, in a row of their own: each stands over the first and holds until the next.
void take_cases_above(const CellRow& above, std::vector<Head>& heads) {
    std::map<Holds, int> times;
    for (const Head& h : heads)
        if (is_component(h.holds) && h.load_case.empty()) ++times[h.holds];
    const bool repeated = std::any_of(times.begin(), times.end(), [](const auto& t) { return t.second > 1; });
    if (!repeated) return;
    std::string now;
    for (size_t k = 0; k < heads.size(); ++k) {
        if (!above.at(k).empty()) now = above.at(k);
        if (!is_component(heads[k].holds) || !heads[k].load_case.empty() || now.empty()) continue;
        heads[k].load_case = now;
        heads[k].text = now + " " + heads[k].text;
    }
}

// Only units, at least two, below heads that hold something with a unit.
bool is_row_of_units(const CellRow& row, const std::vector<Head>& heads) {
    int units = 0;
    for (size_t k = 0; k < row.cells.size(); ++k) {
        std::string c = row.cells[k];
        if (c.size() > 2 && (c[0] == '[' || c[0] == '(')) c = c.substr(1, c.size() - 2);
        if (c.empty() || c == "-" || c == "–") continue;
        if (!unit_of(c)) return false;
        units += k < heads.size() && heads[k].holds != Holds::nothing;
    }
    return units > 0;
}

}  // namespace

HeadRow find_heads(const CellTable& table) {
    HeadRow out;
    int most = 0;
    std::vector<Reading> readings;
    for (int k = 0; k < std::min(50, int(table.rows.size())); ++k) {
        const CellRow& row = table.rows[size_t(k)];
        if (row.is_broken || std::any_of(row.cells.begin(), row.cells.end(), is_number)) {
            // Numbers never stand among heads, but as names of cases above them.
            if (out.row >= 0) break;
            continue;
        }
        int understood = 0;
        std::vector<Reading> r = read_row(row, understood);
        if (understood > most) most = understood, out.row = k, readings = std::move(r);
    }
    if (most < 2) {
        out.row = -1;
        return out;
    }
    out.heads = decided(std::move(readings));
    if (out.row > 0) take_cases_above(table.rows[size_t(out.row - 1)], out.heads);
    out.first_data = out.row + 1;
    if (out.first_data < int(table.rows.size()))
        if (const CellRow& below = table.rows[size_t(out.first_data)]; is_row_of_units(below, out.heads)) {
            for (size_t k = 0; k < out.heads.size(); ++k) {
                std::string c = below.at(k);
                if (c.size() > 2 && (c[0] == '[' || c[0] == '(')) c = c.substr(1, c.size() - 2);
                if (auto u = unit_of(c); u && !out.heads[k].unit) out.heads[k].unit = u;
            }
            ++out.first_data;
        }
    return out;
}

}  // namespace mossbed
