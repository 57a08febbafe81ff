// Tables of what is drawn on the plan. Paths have their ends as numbers and all their points in one cell, as outlines
// have: "0, 0; 12, 0", or "circle 3, 2, 0.5" by middle and radius, m.
#include <fmt/format.h>

#include <charconv>

#include "core/base/paths.h"
#include "core/model/edit.h"
#include "core/model/load_values.h"
#include "core/tables/things_table.h"

namespace mossbed {
namespace {

// Numbers between commas; nothing where one is none.
std::optional<std::vector<double>> numbers_of(std::string_view text) {
    std::vector<double> out;
    while (true) {
        const size_t comma = std::min(text.find(','), text.size());
        std::string_view part = text.substr(0, comma);
        while (!part.empty() && part.front() == ' ') part.remove_prefix(1);
        while (!part.empty() && part.back() == ' ') part.remove_suffix(1);
        double v = 0;
        const auto [end, fault] = std::from_chars(part.data(), part.data() + part.size(), v);
        if (fault != std::errc() || end != part.data() + part.size() || !std::isfinite(v)) return {};
        out.push_back(v);
        if (comma == text.size()) return out;
        text.remove_prefix(comma + 1);
    }
}

std::optional<std::vector<Point>> points_of(std::string_view text) {
    std::vector<Point> out;
    while (true) {
        const size_t end = std::min(text.find(';'), text.size());
        const auto xy = numbers_of(text.substr(0, end));
        if (!xy || xy->size() != 2) return {};
        out.push_back({(*xy)[0], (*xy)[1]});
        if (end == text.size()) return out;
        text.remove_prefix(end + 1);
    }
}

std::string in_words(const std::vector<Point>& points) { return points_in_words(points); }
std::string in_words(const Shape& shape) {
    if (const auto c = shape.circle())
        return fmt::format("circle {:.10g}, {:.10g}, {:.10g}", c->centre.x, c->centre.y, c->radius);
    return in_words(static_cast<const Polygon&>(shape));
}

std::string read_into(std::vector<Point>& points, const std::string& text, size_t fewest) {
    const auto read = points_of(text);
    if (!read || read->size() < fewest) return fmt::format("{} points or more are needed, as \"0, 0; 12, 0\"", fewest);
    points = *read;
    return {};
}
std::string read_into(Shape& shape, const std::string& text, size_t fewest) {
    constexpr std::string_view round = "circle ";
    if (text.rfind(round, 0) != 0) {
        Polygon ring;
        const std::string why = read_into(ring, text, fewest);
        if (why.empty()) shape = ring;
        return why;
    }
    const auto c = numbers_of(std::string_view(text).substr(round.size()));
    if (!c || c->size() != 3 || !((*c)[2] > 0)) return "a circle is written \"circle 3, 2, 0.5\": middle and radius";
    shape = Shape(Circle{{(*c)[0], (*c)[1]}, (*c)[2]});
    return {};
}

// The ends of a path as cells of their own.
struct End {
    const char* key;
    bool last;
    double Point::*along;
};
constexpr std::array<End, 4> ends{
    {{"from x", false, &Point::x}, {"from y", false, &Point::y}, {"to x", true, &Point::x}, {"to y", true, &Point::y}}};
const End* end_of(const std::string& key) {
    for (const End& e : ends)
        if (key == e.key) return &e;
    return nullptr;
}

// Things with a path or an outline; the last cell is its length or area.
template <class T, class Line>
class PlanTable : public ThingsTable<T> {
  public:
    using Base = ThingsTable<T>;
    using Base::columns_, Base::list_;
    PlanTable(Model& m, std::vector<T>& list, ThingKind kind, const char* one, Line T::*line, bool is_closed,
              const std::string& stem, std::initializer_list<const char*> fields)
        : Base(list, kind, one), model_(m), line_(line), is_closed_(is_closed), stem_(stem) {
        if (!is_closed)
            for (const End& e : ends)
                columns_.push_back({.key = e.key, .head = e.key, .facts = {.unit = Unit::metre}, .is_needed = true});
        for (const char* f : fields) this->field(f);
        columns_.push_back({.key = "line",
                            .head = is_closed ? "outline" : "all its points",
                            .holds = TableColumn::text,
                            .is_needed = is_closed});
        for (TableColumn& c : columns_)
            if (c.key == "stiffens") c.holds = TableColumn::word, c.words = {"yes", "no"};
        columns_.push_back({.key = "", .head = is_closed ? "area, m²" : "length, m", .holds = TableColumn::shown});
    }
    TableCell cell(int row, int column) const override {
        TableCell c;
        T& t = list_[size_t(row)];
        const TableColumn& of = columns_[size_t(column)];
        if (const End* e = end_of(of.key)) {
            const std::vector<Point>& points = t.*line_;
            if (!points.empty()) c.number = (e->last ? points.back() : points.front()).*(e->along);
        } else if (of.key == "line") {
            c.text = in_words(t.*line_);
            c.tip = c.text;
        } else if (of.holds == TableColumn::shown) {
            c.is_closed = true;
            c.number = is_closed_ ? std::abs(signed_area(t.*line_)) : length_of(t.*line_);
        } else if (of.key == "stiffens") {
            const auto d = field_of(t, of.key);
            c.text = d && d->is_on() ? "yes" : "no";
        } else {
            return Base::cell(row, column);
        }
        return c;
    }
    std::string set(int row, int column, const std::optional<double>& number, const std::string& text) override {
        T& t = list_[size_t(row)];
        const TableColumn& of = columns_[size_t(column)];
        if (const End* e = end_of(of.key)) {
            if (!number) return "a coordinate is needed";
            std::vector<Point> points = t.*line_;
            if (points.empty()) points = {{0, 0}, {1, 0}};
            Point& end = e->last ? points.back() : points.front();
            end.*(e->along) = *number;
            t.*line_ = Line(points);
            return {};
        }
        if (of.key == "line") return read_into(t.*line_, text, is_closed_ ? 3 : 2);
        if (of.key != "stiffens") return Base::set(row, column, number, text);
        if (text != "yes" && text != "no") return "\"" + text + "\" is neither yes nor no";
        if (auto d = field_of(t, of.key)) d->switch_on(text == "yes");
        return {};
    }

  private:
    // Like the last one, in the middle of the slab until its cell is written.
    T fresh() override {
        T t = list_.empty() ? T{} : list_.back();
        t.id = this->fresh_name(stem_);
        const Point at = has_slab(model_) ? box_of(outer_rim(model_.slab.outline, 0.5)).middle() : Point{};
        t.*line_ = is_closed_ ? Line(rectangle(at, 1, 1)) : Line{at - Point{1, 0}, at + Point{1, 0}};
        return t;
    }
    void renamed(const std::string& from, const std::string& to) override {
        rename_in_loads(model_, this->kind_, {{from, to}});
    }
    Model& model_;
    Line T::*line_;
    bool is_closed_;
    std::string stem_;
};

}  // namespace

std::string read_points(std::vector<Point>& points, const std::string& text, size_t fewest) {
    return read_into(points, text, fewest);
}

std::unique_ptr<Table> plan_table_of(TableKind kind, Model& m) {
    using Points = std::vector<Point>;
    switch (kind) {
        case TableKind::setting_out:
            return std::make_unique<PlanTable<SettingOutLine, Points>>(m, m.setting_out, ThingKind::setting_out, "line",
                                                                       &SettingOutLine::path, false, "line-",
                                                                       std::initializer_list<const char*>{});
        case TableKind::walls:
            return std::make_unique<PlanTable<Wall, Points>>(
                m, m.walls, ThingKind::wall, "wall", &Wall::path, false, "W",
                std::initializer_list<const char*>{"thickness", "height", "stiffens", "stiffness_factor"});
        case TableKind::ribs:
            return std::make_unique<PlanTable<Rib, Points>>(
                m, m.ribs, ThingKind::rib, "rib", &Rib::path, false, "R",
                std::initializer_list<const char*>{"width", "depth", "flush", "over_openings", "stiffness_factor"});
        case TableKind::patches:
            return std::make_unique<PlanTable<SlabPatch, Shape>>(
                m, m.slab.patches, ThingKind::patch, "patch", &SlabPatch::outline, true, "T",
                std::initializer_list<const char*>{"thickness", "flush"});
        case TableKind::openings:
            return std::make_unique<PlanTable<Opening, Shape>>(m, m.slab.openings, ThingKind::opening, "opening",
                                                               &Opening::outline, true, "O",
                                                               std::initializer_list<const char*>{});
        case TableKind::ground_patches:
            return std::make_unique<PlanTable<GroundPatch, Polygon>>(m, m.ground.patches, ThingKind::ground_patch,
                                                                     "ground patch", &GroundPatch::outline, true, "G",
                                                                     std::initializer_list<const char*>{"modulus"});
        default:
            return nullptr;
    }
}

}  // namespace mossbed
