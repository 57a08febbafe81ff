#include "core/exchange/column_table.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>

namespace mossbed {
namespace {

double& value(ColumnLoad& l, Holds h) {
    switch (h) {
        case Holds::Mx:
            return l.Mx;
        case Holds::My:
            return l.My;
        case Holds::Hx:
            return l.Hx;
        case Holds::Hy:
            return l.Hy;
        default:
            return l.N;
    }
}

// Nothing is written in it: "-", "–" and the like stand for that.
bool is_blank(const std::string& cell) {
    return cell.empty() || cell == "-" || cell == "–" || cell == "—" || cell == "--";
}

bool says_total(const std::string& cell) {
    const std::string s = lower(cell);
    for (const char* w : {"total", "sum", "Σ", "∑", "subtotal", "sub-total", "grand total", "summe"})
        if (s.rfind(w, 0) == 0 && (s.size() == std::string(w).size() || !std::isalpha(s[std::string(w).size()]) ||
                                   s.compare(std::string(w).size(), 1, "s") == 0))
            return true;
    return false;
}

std::optional<ColumnShape> shape_of(const std::string& text) {
    const std::string s = lower(trimmed(text));
    auto begins = [&](std::initializer_list<const char*> words) {
        return std::any_of(words.begin(), words.end(), [&](const char* w) { return s.rfind(w, 0) == 0; });
    };
    if (begins({"rect", "square", "sq"}) || s == "r") return ColumnShape::rectangle;
    if (begins({"circ", "round", "ø", "⌀"}) || s == "c" || s == "o") return ColumnShape::circle;
    return {};
}

// 700 · 0.001 is not 0.7.
double to_nanometres(double metres) { return std::round(metres * 1e9) / 1e9; }

constexpr double least_mm = 50, most_m = 5;  // of a side without a unit

// Metres of a side that says no unit; nothing where it may be several.
std::optional<double> bare_side(double v) {
    if (v >= least_mm) return v / 1000;
    if (v <= most_m) return v;
    return {};
}

}  // namespace

bool TableTotal::agree() const {
    return std::abs(in_table - taken) <= 0.51 + 1e-3 * std::max(std::abs(in_table), std::abs(taken));
}

std::string read_size(const std::string& raw, const NumberHabit& habit, const std::optional<WrittenUnit>& unit,
                      bool is_round, TableColumnRow& to) {
    std::string text = trimmed(raw);
    for (const std::string_view mark :
         {"Ø", "ø", "⌀", "Φ", "φ", "diameter", "Diameter", "dia.", "dia", "Dia", "D", "d"})
        if (text.rfind(mark, 0) == 0) {
            is_round = true;
            text = trimmed(text.substr(mark.size()));
            break;
        }
    std::vector<std::string> sides{""};
    for (size_t i = 0; i < text.size();) {
        size_t mark = 0;
        for (const std::string_view m : {"x", "X", "×", "*", "/"})
            if (text.compare(i, m.size(), m) == 0) mark = m.size();
        if (mark)
            sides.emplace_back(), i += mark;
        else
            sides.back() += text[i++];
    }
    if (sides.size() > 2 || (is_round && sides.size() > 1))
        return fmt::format("\"{}\" is not understood as a size", raw);
    std::vector<double> values;
    std::optional<WrittenUnit> own;  // of the last, where only that has one
    std::vector<std::optional<WrittenUnit>> units;
    for (const std::string& s : sides) {
        const auto parts = number_and_rest(s);
        const auto v = parts ? read_number(parts->first, habit) : std::nullopt;
        if (!v) return fmt::format("\"{}\" is not understood as a size", raw);
        std::optional<WrittenUnit> u;
        if (!parts->second.empty()) {
            u = unit_of(parts->second);
            if (!u || u->of != Dimension::length) return fmt::format("\"{}\" is not understood as a size", raw);
        }
        values.push_back(*v), units.push_back(u);
        own = u ? u : own;
    }
    to.size.clear();
    for (size_t k = 0; k < values.size(); ++k) {
        const std::optional<WrittenUnit> u = units[k] ? units[k] : own ? own : unit;
        const std::optional<double> side = u ? to_nanometres(values[k] * u->factor) : bare_side(values[k]);
        if (!side) {
            to.size.clear();
            return fmt::format("\"{}\" may be mm, cm or inches", raw);
        }
        if (!(*side > 0)) {
            to.size.clear();
            return fmt::format("a side of \"{}\" is not above zero", raw);
        }
        to.size.push_back(*side);
    }
    to.shape = is_round ? ColumnShape::circle : ColumnShape::rectangle;
    if (!is_round && to.size.size() == 1) to.size.push_back(to.size[0]);
    return {};
}

namespace {

class TableReader {
  public:
    TableReader(const CellTable& cells, const ColumnTableOptions& options) : cells_(cells), options_(options) {}

    ColumnTable read() {
        out_.separator = cells_.separator, out_.is_sheet = cells_.is_sheet;
        out_.problems = cells_.problems;
        out_.heads = find_heads(cells_);
        if (out_.heads.row < 0) {
            fail("no row of heads was found in it",
                 "write the words over the columns: id, x, y, size, and \"G N\" or case and N");
            return out_;
        }
        if (!options_.heads.empty()) {
            out_.heads.heads = options_.heads;
            out_.heads.heads.resize(std::max(options_.heads.size(), out_.heads.heads.size()));
        }
        look_at_heads();
        if (fatal_) return out_;
        find_habit();
        find_usual_length();
        for (size_t k = size_t(out_.heads.first_data); k < cells_.rows.size(); ++k) row(cells_.rows[k]);
        finish();
        return out_;
    }

  private:
    const std::vector<Head>& heads() const { return out_.heads.heads; }
    void fail(const std::string& what, const std::string& mend) {
        fatal_ = true;
        out_.problems.push_back({what, "the table", mend, Severity::error, {}});
    }
    void warn(const std::string& what, const std::string& where, const std::string& mend) {
        out_.problems.push_back({what, where, mend, Severity::warning, {}});
    }
    void refuse(int line, const std::string& what, const std::string& mend) {
        out_.problems.push_back({what, fmt::format("line {}", line), mend, Severity::error, {}});
    }
    static std::string where(int line) { return fmt::format("line {}", line); }

    // The first column of the table that holds this, −1.
    int column(Holds h) const {
        for (size_t k = 0; k < heads().size(); ++k)
            if (heads()[k].holds == h) return int(k);
        return -1;
    }

    void look_at_heads() {
        out_.is_long = column(Holds::load_case) >= 0;
        std::map<std::string, std::string> seen;
        bool any_load = false, bare = false;
        for (Head& h : out_.heads.heads) {
            if (h.holds == Holds::nothing) {
                if (!h.text.empty() && lower(h.text) != "level" && lower(h.text) != "z")
                    unread_.push_back("\"" + h.text + "\"");
                continue;
            }
            if (is_component(h.holds)) {
                any_load = true;
                if (out_.is_long && h.load_case.empty()) h.load_case.clear();
                bare |= !out_.is_long && h.load_case.empty();
            }
            const std::string what = h.load_case + (h.load_case.empty() ? "" : " ") + name_of(h.holds);
            if (const auto [it, is_new] = seen.emplace(what, h.text); !is_new)
                return fail(fmt::format("\"{}\" and \"{}\" would both be {}", it->second, h.text, what),
                            "rename one of the two heads, or leave that column out");
            if (h.unit && dimension_of(h.holds) != h.unit->of) {
                if (dimension_of(h.holds) == Dimension::none) {
                    h.unit.reset();
                    continue;
                }
                return fail(fmt::format("the unit {} of \"{}\" does not fit", h.unit->name, h.text),
                            fmt::format("{} is wanted", dimension_of(h.holds) == Dimension::length   ? "a length"
                                                        : dimension_of(h.holds) == Dimension::moment ? "a moment"
                                                        : dimension_of(h.holds) == Dimension::force  ? "a force"
                                                                                                     : "an angle"));
            }
        }
        if (column(Holds::name) < 0)
            return fail("no column of it names the columns of the building", "write \"id\" over their names");
        if (options_.loads_only && !any_load)
            return fail("no column of it holds a load", "write \"G N\", or \"case\" and \"N\", over the values");
        if (bare) {
            only_case_ = "G";
            warn("its loads name no case; they are taken as case G", "the table",
                 "write the case into the heads, as \"Q N\", where that is wrong");
        }
        if (!unread_.empty()) {
            std::string list;
            for (const std::string& u : unread_) list += (list.empty() ? "" : ", ") + u;
            warn(fmt::format("not understood and left out: {}", list), "the heads",
                 "a load is \"G N\", \"Q My\" or the like");
        }
        const bool has_place = column(Holds::x) >= 0 || column(Holds::y) >= 0;
        if (has_place && (column(Holds::x) < 0 || column(Holds::y) < 0))
            return fail("only one of x and y is there", "give both coordinates");
        if (!any_load && !has_place)
            fail("neither places nor loads are in it", "write \"x\", \"y\", or \"G N\" over the values");
    }

    void find_habit() {
        std::vector<std::string> texts;
        for (size_t k = size_t(out_.heads.first_data); k < cells_.rows.size(); ++k)
            for (size_t c = 0; c < heads().size(); ++c)
                if (dimension_of(heads()[c].holds) != Dimension::none) {
                    const std::string& cell = cells_.rows[k].at(c);
                    if (cell.empty()) continue;
                    if (const auto parts = number_and_rest(cell)) texts.push_back(parts->first);
                }
        out_.habit = habit_of(texts, cells_.separator);
        if (out_.habit.is_mixed)
            warn("some numbers have a decimal point and some a decimal comma", "the table",
                 "each is read as it says; what can be read in two ways is left out");
        else if (!out_.habit.is_sure &&
                 std::any_of(texts.begin(), texts.end(), [](const std::string& t) { return reads_both_ways(t); }))
            warn(fmt::format(
                     "numbers like \"{}\" may be read in two ways; the {} is taken for the decimal sign",
                     *std::find_if(texts.begin(), texts.end(), [](const std::string& t) { return reads_both_ways(t); }),
                     out_.habit.decimal == DecimalSign::point ? "point" : "comma"),
                 "the table", "look at the places and totals; write 1250 or 1.25 where it is wrong");
    }

    // Cells that most rows have, and those that reach up to the last head which holds something.
    void find_usual_length() {
        for (size_t k = 0; k < heads().size(); ++k)
            if (heads()[k].holds != Holds::nothing) wanted_cells_ = k + 1;
        std::map<size_t, int> of_length;
        for (size_t k = size_t(out_.heads.first_data); k < cells_.rows.size(); ++k)
            if (!cells_.rows[k].is_empty()) ++of_length[cells_.rows[k].cells.size()];
        int most = 0;
        for (auto [n, rows] : of_length)
            if (rows >= most) most = rows, usual_cells_ = n;
        if (cells_.is_sheet) usual_cells_ = 0;  // cells beyond the last one that holds something are not kept
        if (usual_cells_ > heads().size())
            warn(fmt::format("its rows have {} cells and the heads {}", usual_cells_, heads().size()), "the table",
                 "see that each head stands over its column");
        if (cells_.ends_openly)
            warn("it ends without a line end", where(cells_.rows.back().line), "see that its last row is whole");
    }

    // m, kN, kN·m or degrees of one cell; nothing, and `why`, where it is none. A unit may stand behind the number.
    std::optional<double> number(const CellRow& row, int c, std::string* why) const {
        const std::string& cell = row.at(size_t(c));
        const Head& h = heads()[size_t(c)];
        const auto parts = number_and_rest(cell);
        std::optional<WrittenUnit> own;
        if (parts && !parts->second.empty()) own = unit_of(parts->second);
        const bool sound = parts && (parts->second.empty() || (own && own->of == dimension_of(h.holds)));
        const auto v = sound ? read_number(parts->first, out_.habit) : std::nullopt;
        if (!v || std::abs(*v) > 1e12) {  // beyond all that can be meant
            const std::string shown = cell.size() > 30 ? cell.substr(0, 30) + "…" : cell;
            *why = sound && reads_both_ways(parts->first)
                       ? fmt::format("{} is \"{}\", which may be read in two ways", words_of(h), shown)
                       : fmt::format("{} is \"{}\", which is not a number", words_of(h), shown);
            return {};
        }
        const double value = *v * (own ? own->factor : factor(h));
        return dimension_of(h.holds) == Dimension::length ? to_nanometres(value) : value;
    }
    static std::string words_of(const Head& h) { return h.text.empty() ? std::string(name_of(h.holds)) : h.text; }

    double factor(const Head& h) const {
        if (h.unit) return h.unit->factor;
        switch (dimension_of(h.holds)) {
            case Dimension::length:
                return options_.length ? options_.length->factor : 1;
            case Dimension::force:
                return options_.force ? options_.force->factor : 1;
            case Dimension::moment: {  // the force × m; kip × ft where forces are in kip or lb
                const WrittenUnit force = options_.force.value_or(stated_force());
                const bool is_foot = lower(force.name).rfind('k', 0) == 0 ? lower(force.name) != "kn"
                                                                          : lower(force.name).rfind("lb", 0) == 0;
                return force.factor * (is_foot ? 0.3048 : 1);
            }
            default:
                return 1;
        }
    }
    WrittenUnit stated_force() const {
        for (const Head& h : heads())
            if (dimension_of(h.holds) == Dimension::force && h.unit) return *h.unit;
        return {"kN", Dimension::force, 1};
    }

    void row(const CellRow& row) {
        if (row.is_empty()) return;
        ++out_.rows;
        if (row.is_broken) return refuse(row.line, "the row is cut off", "complete it; nothing of it is taken");
        if (row.cells.size() == 1 && heads().size() > 2 && row.cells[0].find_first_of(",;\t") != std::string::npos)
            return refuse(row.line, "other signs stand between its cells than in the heads", "write it as the others");
        // One cell more or fewer, and numbers are taken for their neighbours.
        const size_t n = row.cells.size();
        bool beyond = false;
        for (size_t k = heads().size(); k < n; ++k) beyond |= !row.cells[k].empty();
        const bool is_last = &row == &cells_.rows.back();
        if (n < wanted_cells_ && is_last && cells_.ends_openly)
            return refuse(row.line, "the row is cut off", "complete it; nothing of it is taken");
        if (beyond || (n > heads().size() && n > usual_cells_) || (n < wanted_cells_ && !cells_.is_sheet))
            return refuse(row.line, fmt::format("it has {} cells where the heads are {}", n, heads().size()),
                          "check its separators; a comma within a number splits it");
        const bool starts_total = std::any_of(row.cells.begin(), row.cells.end(),
                                              [](const std::string& c) { return !c.empty() && says_total(c); });
        std::string id = row.at(size_t(column(Holds::name)));
        if (starts_total && (id.empty() || says_total(id))) return total(row);
        if (is_repeated_head(row)) return;
        if (id.empty()) {
            if (!out_.is_long || now_.empty())
                return refuse(row.line, "it names no column", "write the column's name in front of it");
            id = now_;  // merged cells: the name stands only once
        }
        if (const std::string why = out_.is_long ? long_row(row, id) : wide_row(row, id); !why.empty())
            refuse(row.line, fmt::format("column {}: {}", id, why), mend_of(why));
    }
    static std::string mend_of(const std::string& why) {
        if (why.find("not a number") != why.npos) return "write a plain number";
        if (why.find("may be") != why.npos) return "write its unit, or a decimal sign that can be read in one way only";
        return "mend the row, or remove it";
    }
    bool is_repeated_head(const CellRow& row) const {  // on a second page
        int same = 0;
        for (size_t k = 0; k < heads().size(); ++k) same += !row.at(k).empty() && row.at(k) == heads()[k].text;
        return same >= 2;
    }

    void total(const CellRow& row) {
        for (size_t k = 0; k < heads().size(); ++k) {
            std::string why;
            if (!is_component(heads()[k].holds) || is_blank(row.at(k))) continue;
            const auto v = number(row, int(k), &why);
            if (!v) continue;
            const int c = column(Holds::load_case);
            std::string of = out_.is_long ? (c >= 0 ? row.at(size_t(c)) : "") : case_of(heads()[k]);
            if (says_total(of)) of.clear();
            out_.totals.push_back({row.line, of, heads()[k].holds, turned(heads()[k].holds, *v), 0});
        }
        total_lines_.push_back(row.line);
    }
    std::string case_of(const Head& h) const { return h.load_case.empty() ? only_case_ : h.load_case; }
    double turned(Holds h, double v) const { return options_.are_reactions && h != Holds::N ? -v : v; }

    // The column of the building that a row is about, made where it is new. Why not, else empty.
    std::string place(const CellRow& row, const std::string& id, size_t* index) {
        TableColumnRow c;
        c.line = row.line, c.id = id;
        std::string why;
        if (!options_.loads_only && column(Holds::x) >= 0) {
            const std::string &x = row.at(size_t(column(Holds::x))), &y = row.at(size_t(column(Holds::y)));
            if (!is_blank(x) || !is_blank(y)) {
                if (is_blank(x) || is_blank(y)) return is_blank(x) ? "it has no x" : "it has no y";
                const auto px = number(row, column(Holds::x), &why);
                if (!px) return why;
                const auto py = number(row, column(Holds::y), &why);
                if (!py) return why;
                c.at = Point{*px, *py};
            }
        }
        if (!options_.loads_only)
            if (why = shape_and_size(row, c); !why.empty()) return why;
        if (!options_.loads_only && column(Holds::angle) >= 0 && !is_blank(row.at(size_t(column(Holds::angle))))) {
            c.angle = number(row, column(Holds::angle), &why);
            if (!c.angle) return why;
        }
        const auto [it, is_new] = index_.emplace(id, out_.columns.size());
        *index = it->second;
        if (is_new) {
            if (!options_.loads_only && column(Holds::x) >= 0 && !c.at) {
                index_.erase(it);
                return "it has no place (x and y are empty)";
            }
            if (c.at) {
                const auto [at, is_free] = at_place_.emplace(std::pair{c.at->x, c.at->y}, id);
                if (!is_free) {
                    index_.erase(it);
                    return fmt::format("it stands where column {} stands", at->second);
                }
            }
            out_.columns.push_back(std::move(c));
            return {};
        }
        TableColumnRow& known = out_.columns[it->second];
        if (c.at && known.at && distance(*c.at, *known.at) > 1e-6)
            return fmt::format("it stood at ({:g}, {:g}) in line {} and stands at ({:g}, {:g}) here", known.at->x,
                               known.at->y, known.line, c.at->x, c.at->y);
        if (!c.size.empty() && !known.size.empty() && (c.size != known.size || c.shape != known.shape))
            return fmt::format("it has another size here than in line {}", known.line);
        if (c.angle && known.angle && *c.angle != *known.angle)
            return fmt::format("it is turned by another angle here than in line {}", known.line);
        if (known.size.empty() && !c.size.empty()) known.size = c.size, known.shape = c.shape;
        if (!known.angle) known.angle = c.angle;
        return {};
    }

    std::string shape_and_size(const CellRow& row, TableColumnRow& c) {
        bool is_round = false;
        if (const int k = column(Holds::shape); k >= 0 && !is_blank(row.at(size_t(k)))) {
            const auto s = shape_of(row.at(size_t(k)));
            if (!s) return fmt::format("the shape \"{}\" is neither rectangle nor circle", row.at(size_t(k)));
            is_round = *s == ColumnShape::circle;
            c.shape = s;
        }
        std::string why;
        if (const int k = column(Holds::size); k >= 0 && !is_blank(row.at(size_t(k))))
            return read_size(row.at(size_t(k)), out_.habit, unit_of_sizes(heads()[size_t(k)]), is_round, c);
        auto side = [&](Holds h) -> std::optional<double> {
            const int k = column(h);
            if (k < 0 || is_blank(row.at(size_t(k)))) return {};
            auto v = number(row, k, &why);
            if (!v) return {};
            const auto parts = number_and_rest(row.at(size_t(k)));
            if (!heads()[size_t(k)].unit && !options_.length && parts->second.empty()) {
                v = bare_side(*v);
                if (!v)
                    why = fmt::format("{} is \"{}\", which may be mm, cm or inches", words_of(heads()[size_t(k)]),
                                      row.at(size_t(k)));
            }
            if (v && !(*v > 0)) {
                why = fmt::format("{} is \"{}\", which is not above zero", words_of(heads()[size_t(k)]),
                                  row.at(size_t(k)));
                v.reset();
            }
            return v;
        };
        const auto d = side(Holds::diameter), w = side(Holds::width), h = side(Holds::depth);
        if (!why.empty()) return why;
        if (d && !(c.shape == ColumnShape::rectangle)) {
            c.shape = ColumnShape::circle, c.size = {*d};
        } else if (is_round && (w || h)) {
            if (w && h && std::abs(*w - *h) > 1e-6) return "it is round and has two different sizes";
            c.size = {w ? *w : *h};
        } else if (w || h) {
            c.shape = ColumnShape::rectangle, c.size = {w ? *w : *h, h ? *h : *w};
        }
        return {};
    }
    // Sizes written as one text go by their own numbers, unless their head states a unit.
    std::optional<WrittenUnit> unit_of_sizes(const Head& h) const {
        if (h.unit) return h.unit;
        if (options_.length && options_.length->factor > 0.001 && options_.length->factor < 1) return options_.length;
        return {};
    }

    // Numbers of a row by component; why not, else empty.
    std::string components(const CellRow& row, const std::string& of, TableLoad& load) {
        std::string why;
        for (size_t k = 0; k < heads().size(); ++k) {
            const Head& h = heads()[k];
            if (!is_component(h.holds) || (!out_.is_long && case_of(h) != of) || is_blank(row.at(k))) continue;
            const auto v = number(row, int(k), &why);
            if (!v) return why;
            value(load.load, h.holds) = turned(h.holds, *v);
            load.stated.insert(h.holds);
        }
        return {};
    }

    std::string wide_row(const CellRow& row, const std::string& id) {
        if (const auto it = line_of_.find(id); it != line_of_.end())
            return fmt::format("it was given in line {} already", it->second);
        std::vector<TableLoad> loads;
        for (const Head& h : heads()) {
            if (!is_component(h.holds)) continue;
            const std::string of = case_of(h);
            note_case(of);
            if (std::any_of(loads.begin(), loads.end(), [&](const TableLoad& l) { return l.load_case == of; }))
                continue;
            TableLoad l;
            l.line = row.line, l.load_case = of, l.load.column = id;
            if (const std::string why = components(row, of, l); !why.empty()) return why;
            loads.push_back(std::move(l));
        }
        size_t index = 0;
        if (const std::string why = place(row, id, &index); !why.empty()) return why;
        line_of_[id] = row.line;
        for (TableLoad& l : loads)
            if (!l.stated.empty()) out_.loads.push_back(std::move(l));
        return {};
    }

    std::string long_row(const CellRow& row, const std::string& id) {
        TableLoad l;
        l.line = row.line, l.load_case = row.at(size_t(column(Holds::load_case))), l.load.column = id;
        if (id != now_) now_.clear();
        const std::string why_load = components(row, l.load_case, l);
        size_t index = 0;
        if (const std::string why = place(row, id, &index); !why.empty()) return why;
        now_ = id;  // rows below it without a name are this column's, whatever its loads
        if (!why_load.empty()) return why_load;
        if (l.load_case.empty()) return l.stated.empty() ? "" : "it names no case";
        const auto [it, is_new] = line_of_.emplace(id + '\n' + lower(l.load_case), row.line);
        if (!is_new) return fmt::format("case {} was given in line {} already", l.load_case, it->second);
        note_case(l.load_case);
        if (!l.stated.empty()) out_.loads.push_back(std::move(l));
        return {};
    }
    void note_case(const std::string& id) {
        if (!id.empty() && cases_.insert(id).second) out_.cases.push_back(id);
    }

    void finish() {
        sum_totals();
        if (out_.none() && !out_.anything_left_out())
            fail("no row of it holds a column", "write a row for each column below the heads");
        if (!options_.loads_only && !out_.columns.empty() && column(Holds::x) >= 0) {
            const size_t bare = size_t(std::count_if(out_.columns.begin(), out_.columns.end(),
                                                     [](const TableColumnRow& c) { return c.size.empty(); }));
            if (bare > 0)
                warn(fmt::format("{} of {} columns have no size in it", bare, out_.columns.size()), "the table",
                     "those that are new get 0.4 × 0.4 m; give them theirs");
            Box box;
            for (const TableColumnRow& c : out_.columns)
                if (c.at) box.add(*c.at);
            if (out_.columns.size() > 1 && std::max(box.width(), box.height()) > 2000)
                warn(fmt::format("the columns lie {:.0f} m apart", std::max(box.width(), box.height())), "the table",
                     "say the unit of x and y, as \"x [mm]\" or --length mm, where that is wrong");
        }
    }

    void sum_totals() {
        std::set<int> disagree;
        for (TableTotal& t : out_.totals) {
            for (const TableLoad& l : out_.loads)
                if (t.load_case.empty() || lower(l.load_case) == lower(t.load_case)) {
                    ColumnLoad load = l.load;
                    t.taken += value(load, t.component);
                }
            if (!t.agree()) disagree.insert(t.line);
        }
        for (int line : total_lines_) {
            std::string said;
            const bool any =
                std::any_of(out_.totals.begin(), out_.totals.end(), [&](auto& t) { return t.line == line; });
            for (const TableTotal& t : out_.totals)
                if (t.line == line && !t.agree())
                    said += fmt::format("{}{}{} {:g}, taken {:g}", said.empty() ? "" : "; ", t.load_case,
                                        (t.load_case.empty() ? "" : " ") + std::string(name_of(t.component)),
                                        t.in_table, t.taken);
            if (!any)
                warn("a row of totals, not a column; no number of it can be compared", where(line), "nothing to do");
            else if (said.empty())
                warn("a row of totals, not a column; it agrees with what was taken", where(line), "nothing to do");
            else
                warn(fmt::format("a row of totals, not a column; it differs from what was taken: {}", said),
                     where(line), "look for a row that is missing or was not taken");
        }
    }

    const CellTable& cells_;
    const ColumnTableOptions& options_;
    ColumnTable out_;
    bool fatal_ = false;
    size_t usual_cells_ = 0, wanted_cells_ = 0;
    std::vector<std::string> unread_;
    std::string only_case_, now_;  // of loads that name none; the column of the row above
    std::unordered_map<std::string, size_t> index_;
    std::unordered_map<std::string, int> line_of_;  // of a column, or of a column and case
    std::map<std::pair<double, double>, std::string> at_place_;
    std::set<std::string> cases_;
    std::vector<int> total_lines_;
};

}  // namespace

ColumnLoad ColumnTable::sum_of(const std::string& load_case) const {
    ColumnLoad sum;
    for (const TableLoad& l : loads)
        if (l.load_case == load_case)
            sum.N += l.load.N, sum.Mx += l.load.Mx, sum.My += l.load.My, sum.Hx += l.load.Hx, sum.Hy += l.load.Hy;
    return sum;
}

ColumnTable read_column_table(const CellTable& cells, const ColumnTableOptions& options) {
    return TableReader(cells, options).read();
}

}  // namespace mossbed
