#include "core/exchange/drawing_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <functional>
#include <numbers>

#include "core/exchange/cells.h"
#include "core/file/text_encoding.h"

namespace mossbed {

const DrawnLayer* DrawingFile::layer(const std::string& name) const {
    for (const DrawnLayer& l : layers)
        if (lower(l.name) == lower(name)) return &l;
    return nullptr;
}

namespace {

[[noreturn]] void fail(std::string what, std::string mend) {
    throw Trouble({std::move(what), "the drawing", std::move(mend), Severity::error, {}});
}

constexpr double farthest = 1e10;  // units; what lies further is a spoilt number

// Bytes 8 to 21 of a binary file.
constexpr std::string_view binary_mark{"Binary DXF\r\n\x1a\0", 14};

// A group code and its value (DXF reference, "Group code value types").
struct Group {
    int code = 0;
    int line = 0;
    std::string text;
    double number() const {
        double v = 0;
        const std::string s = trimmed(text);
        const size_t from = !s.empty() && s[0] == '+';
        const auto [end, error] = std::from_chars(s.data() + from, s.data() + s.size(), v);
        return error == std::errc() && std::isfinite(v) ? v : 0;
    }
    bool is_number() const {
        double v = 0;
        const std::string s = trimmed(text);
        const size_t from = !s.empty() && s[0] == '+';
        const auto [end, error] = std::from_chars(s.data() + from, s.data() + s.size(), v);
        return error == std::errc() && end == s.data() + s.size() && std::isfinite(v);
    }
    int integer() const { return int(std::clamp(number(), -1e9, 1e9)); }
};

// "\U+00FC" as it is meant.
std::string with_signs(std::string s) {
    for (size_t at = 0; (at = s.find("\\U+", at)) != s.npos;) {
        unsigned sign = 0;
        const auto [end, error] = std::from_chars(s.data() + at + 3, s.data() + std::min(s.size(), at + 7), sign, 16);
        if (error != std::errc() || end != s.data() + at + 7) {
            at += 3;
            continue;
        }
        const std::string both{char(sign & 0xFF), char(sign >> 8)};
        const std::string utf8 = as_utf8("\xFF\xFE" + both);
        s.replace(at, 7, utf8);
        at += utf8.size();
    }
    return s;
}

std::vector<Group> groups_of_text(const std::string& text) {
    std::vector<Group> out;
    size_t at = 0;
    int line = 0;
    auto next = [&](std::string& to) {
        if (at >= text.size()) return false;
        size_t end = text.find('\n', at);
        if (end == std::string::npos) end = text.size();
        to.assign(text, at, end - at);
        if (!to.empty() && to.back() == '\r') to.pop_back();
        at = end + 1, ++line;
        return true;
    };
    std::string code, value;
    while (next(code)) {
        const std::string c = trimmed(code);
        Group g;
        g.line = line;
        const auto [end, error] = std::from_chars(c.data(), c.data() + c.size(), g.code);
        if (error != std::errc() || end != c.data() + c.size()) {
            if (c.empty() && at >= text.size()) break;
            fail(fmt::format("line {}: a group code is expected and \"{}\" stands there", line, c.substr(0, 20)),
                 "the file is damaged there; write it anew");
        }
        if (!next(value)) break;
        g.text = with_signs(as_utf8(value));
        out.push_back(std::move(g));
    }
    return out;
}

// Binary: codes of one byte before release 13 (255 announces two), of two bytes since.
class BinaryGroups {
  public:
    explicit BinaryGroups(const std::string& bytes) : b_(bytes), at_(22) {
        wide_ = b_.size() > 23 && b_[22] == 0 && b_[23] == 0;
    }
    std::vector<Group> read() {
        std::vector<Group> out;
        Group g;
        while (one(g)) {
            g.line = int(out.size()) + 1;
            out.push_back(g);
        }
        return out;
    }

  private:
    template <class T>
    bool take(T& to) {
        if (at_ + sizeof(T) > b_.size()) return false;
        std::memcpy(&to, b_.data() + at_, sizeof(T));
        at_ += sizeof(T);
        return true;
    }
    template <class T>
    bool as_text(Group& g) {
        T v{};
        if (!take(v)) return false;
        g.text = fmt::format("{}", v);
        return true;
    }
    bool one(Group& g) {
        uint8_t small = 0;
        int16_t code = 0;
        if (wide_) {
            if (!take(code)) return false;
        } else {
            if (!take(small)) return false;
            code = small;
            if (small == 255 && !take(code)) return false;
        }
        g.code = code;
        const int c = code;
        auto in = [c](int low, int high) { return c >= low && c <= high; };
        if (in(10, 59) || in(110, 149) || in(210, 239) || in(460, 469) || in(1010, 1059)) return as_text<double>(g);
        if (in(60, 79) || in(170, 179) || in(270, 289) || in(370, 389) || in(400, 409) || in(1060, 1070))
            return as_text<int16_t>(g);
        if (in(90, 99) || in(420, 429) || in(440, 459) || c == 1071) return as_text<int32_t>(g);
        if (in(160, 169)) return as_text<int64_t>(g);
        if (in(290, 299)) {
            uint8_t v = 0;
            if (!take(v)) return false;
            g.text = v ? "1" : "0";
            return true;
        }
        if (in(310, 319) || c == 1004) {  // bytes, counted
            uint8_t n = 0;
            if (!take(n) || at_ + n > b_.size()) return false;
            at_ += n, g.text.clear();
            return true;
        }
        const size_t end = b_.find('\0', at_);
        if (end == std::string::npos) return false;
        g.text = with_signs(as_utf8(b_.substr(at_, end - at_)));
        at_ = end + 1;
        return true;
    }
    const std::string& b_;
    size_t at_;
    bool wide_ = true;
};

// x' = a x + b y + e, y' = c x + d y + f
struct Affine {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
    Point operator()(Point p) const { return {a * p.x + b * p.y + e, c * p.x + d * p.y + f}; }
    double det() const { return a * d - b * c; }
    bool keeps_shapes() const {  // turned, scaled evenly, mirrored
        const double size = std::abs(a) + std::abs(b) + std::abs(c) + std::abs(d);
        return (std::abs(a - d) + std::abs(b + c) < 1e-9 * size) || (std::abs(a + d) + std::abs(b - c) < 1e-9 * size);
    }
    Affine after(const Affine& g) const {  // this(g(p))
        return {a * g.a + b * g.c, a * g.b + b * g.d,     c * g.a + d * g.c,
                c * g.b + d * g.d, a * g.e + b * g.f + e, c * g.e + d * g.f + f};
    }
};

// The points of a path with its arcs as chords of a 64th of a turn: of what is stretched more one way than the other.
std::vector<DrawnVertex> as_chords(const DrawnShape& s) {
    std::vector<DrawnVertex> out;
    if (s.kind == DrawnShape::circle) {
        for (int k = 0; k < 128; ++k) out.push_back({s.vertices[0].at + turned({s.radius, 0}, 360.0 * k / 128), 0});
        return out;
    }
    for (size_t k = 0; k < s.vertices.size(); ++k) {
        const DrawnVertex& v = s.vertices[k];
        out.push_back({v.at, 0});
        if (v.bulge == 0 || (k + 1 == s.vertices.size() && !s.is_closed)) continue;
        const Point to = s.vertices[(k + 1) % s.vertices.size()].at, half = 0.5 * (to - v.at);
        const double angle = 4 * std::atan(v.bulge);
        const Point middle = v.at + half + ((1 - v.bulge * v.bulge) / (2 * v.bulge)) * left_of(half);
        const int n = std::max(2, int(std::ceil(std::abs(angle) / (2 * std::numbers::pi) * 64)));
        for (int i = 1; i < n; ++i)
            out.push_back({middle + turned(v.at - middle, angle * i / n * 180 / std::numbers::pi), 0});
    }
    return out;
}

DrawnShape placed(DrawnShape s, const Affine& t) {
    if (t.keeps_shapes()) {
        const double scale = std::sqrt(std::abs(t.det()));
        for (DrawnVertex& v : s.vertices) {
            v.at = t(v.at);
            if (t.det() < 0) v.bulge = -v.bulge;
        }
        s.radius *= scale, s.width *= scale;
        return s;
    }
    if (s.kind != DrawnShape::text) {
        const bool closed = s.kind == DrawnShape::circle || s.is_closed;
        s.vertices = as_chords(s);
        s.kind = DrawnShape::path, s.is_closed = closed, s.radius = 0, s.width = 0;
    }
    for (DrawnVertex& v : s.vertices) v.at = t(v.at);
    return s;
}

struct Insert {
    std::string block, layer;
    Affine at;
    int columns = 1, rows = 1;
    double column_step = 0, row_step = 0, turn = 0;
    std::map<std::string, std::string> data;
};
struct Block {
    Point base;
    std::vector<DrawnShape> shapes;
    std::vector<Insert> inserts;
    std::map<std::pair<std::string, std::string>, int> not_read;
};

// One entity's groups.
class Entity {
  public:
    std::string type;
    int line = 0;
    std::vector<Group> groups;

    double number(int code, double standard = 0) const {
        const Group* g = find(code);
        return g ? g->number() : standard;
    }
    int integer(int code, int standard = 0) const {
        const Group* g = find(code);
        return g ? g->integer() : standard;
    }
    std::string text(int code) const {
        const Group* g = find(code);
        return g ? g->text : "";
    }
    bool has(int code) const { return find(code) != nullptr; }
    std::string layer() const { return trimmed(text(8)).empty() ? "0" : trimmed(text(8)); }
    Point point(int x) const { return {number(x), number(x + 10)}; }
    bool is_on_paper() const { return integer(67) == 1; }
    // Entities of planes seen from below are mirrored about y ("arbitrary axis", DXF reference).
    bool is_from_below() const { return number(230, 1) < 0; }
    bool is_oblique() const { return std::abs(std::abs(number(230, 1)) - 1) > 1e-6; }
    bool has_sound_numbers() const {
        return std::all_of(groups.begin(), groups.end(), [](const Group& g) {
            const bool is_wanted = (g.code >= 10 && g.code <= 79) || (g.code >= 90 && g.code <= 99);
            return !is_wanted || (g.is_number() && std::abs(g.number()) < farthest);
        });
    }
    std::map<std::string, std::string> data() const {
        std::map<std::string, std::string> out;
        bool ours = false;
        for (const Group& g : groups) {
            if (g.code == 1001) ours = g.text == "MOSSBED";
            if (g.code != 1000 || !ours) continue;
            const size_t at = g.text.find('=');
            if (at != std::string::npos) out[g.text.substr(0, at)] = g.text.substr(at + 1);
        }
        return out;
    }

  private:
    const Group* find(int code) const {
        for (const Group& g : groups) {
            if (g.code == 1001) return nullptr;  // extended data have codes of their own
            if (g.code == code) return &g;
        }
        return nullptr;
    }
};

class DrawingReader {
  public:
    explicit DrawingReader(std::vector<Group> groups) : groups_(std::move(groups)) {}
    DrawingFile read() {
        bool any = false;
        while (at_ < groups_.size()) {
            const Group& g = groups_[at_++];
            if (g.code != 0) continue;
            if (g.text == "EOF") {
                ended_ = true;
                break;
            }
            if (g.text != "SECTION" || at_ >= groups_.size()) continue;
            const std::string name = groups_[at_].code == 2 ? groups_[at_].text : "";
            any = true;
            if (name == "HEADER") header();
            if (name == "TABLES") tables();
            if (name == "BLOCKS") blocks();
            if (name == "ENTITIES") entities(model_, "ENDSEC");
        }
        if (!any) fail("no section of a drawing was found in it", "give a DXF file");
        out_.is_cut_off = !ended_;
        expand(model_, Affine{}, "", 0, -1);
        return std::move(out_);
    }

  private:
    bool done() const { return at_ >= groups_.size(); }
    void header() {
        std::string variable;
        for (; !done(); ++at_) {
            const Group& g = groups_[at_];
            if (g.code == 0) return;
            if (g.code == 9) variable = g.text;
            if (variable == "$INSUNITS" && g.code == 70) out_.unit = g.integer();
        }
    }
    // The next entity with all its groups; its type and line are those of the group that begins it.
    Entity next() {
        Entity e;
        e.type = groups_[at_].text, e.line = groups_[at_].line;
        for (++at_; !done() && groups_[at_].code != 0; ++at_) e.groups.push_back(groups_[at_]);
        return e;
    }
    void skip_to_zero() {
        while (!done() && groups_[at_].code != 0) ++at_;
    }
    void tables() {
        skip_to_zero();
        while (!done() && groups_[at_].text != "ENDSEC") {
            const Entity e = next();
            if (e.type == "LAYER")
                out_.layers.push_back({trimmed(e.text(2)), (e.integer(70) & 1) != 0, e.integer(62, 7) < 0});
        }
    }
    void blocks() {
        skip_to_zero();
        while (!done() && groups_[at_].text != "ENDSEC") {
            const Entity e = next();
            if (e.type != "BLOCK") continue;
            Block b;
            b.base = e.point(10);
            entities(b, "ENDBLK");
            if (e.has_sound_numbers()) blocks_[e.text(2)] = std::move(b);  // else what it is put in for is told
        }
    }
    void entities(Block& to, const std::string& end) {
        skip_to_zero();
        while (!done() && groups_[at_].text != end && groups_[at_].text != "ENDSEC" && groups_[at_].text != "EOF")
            entity(to);
        if (!done() && groups_[at_].text == "ENDBLK") next();
    }
    void entity(Block& to) {
        const Entity e = next();
        if (e.is_on_paper()) return skip_vertices(e);
        DrawnShape s;
        s.layer = e.layer(), s.line = e.line, s.data = e.data();
        const bool known = e.type == "LINE" || e.type == "LWPOLYLINE" || e.type == "POLYLINE" || e.type == "CIRCLE" ||
                           e.type == "ARC" || e.type == "INSERT" || e.type == "TEXT" || e.type == "MTEXT";
        if (e.type == "SEQEND" || e.type == "VERTEX" || e.type == "ATTRIB" || e.type == "ATTDEF" ||
            e.type == "VIEWPORT")
            return;
        if (!known || !e.has_sound_numbers() || e.is_oblique()) {
            ++to.not_read[{s.layer,
                           !known ? e.type : e.type + (e.is_oblique() ? " out of the plane" : " with spoilt numbers")}];
            return skip_vertices(e);
        }
        const Affine plane{e.is_from_below() && e.type != "LINE" ? -1.0 : 1.0, 0, 0, 1, 0, 0};
        if (e.type == "LINE") {
            s.vertices = {{e.point(10), 0}, {e.point(11), 0}};
        } else if (e.type == "CIRCLE") {
            s.kind = DrawnShape::circle, s.vertices = {{e.point(10), 0}}, s.radius = e.number(40);
            if (!(s.radius > 0)) return;
        } else if (e.type == "ARC") {
            arc(e, s);
        } else if (e.type == "TEXT" || e.type == "MTEXT") {
            s.kind = DrawnShape::text, s.vertices = {{e.point(10), 0}};
            s.words = plain_words(e);
        } else if (e.type == "LWPOLYLINE") {
            light_polyline(e, s);
        } else if (e.type == "POLYLINE") {
            polyline(e, s, to);
        } else {
            insert(e, plane, to);
            return;
        }
        if (!s.vertices.empty()) to.shapes.push_back(placed(std::move(s), plane));
    }
    // Of a polyline that is not read.
    void skip_vertices(const Entity& e) {
        if (e.type != "POLYLINE") return;
        while (!done() && groups_[at_].text == "VERTEX") next();
    }
    static std::string plain_words(const Entity& e) {
        std::string all, out;
        for (const Group& g : e.groups) {
            if (g.code == 1001) break;
            if (g.code == 3) all += g.text;
        }
        all += e.text(1);
        for (size_t i = 0; i < all.size(); ++i) {  // "\P" ends a line, other marks are of type
            if (all[i] == '\\' && i + 1 < all.size()) {
                out += all[i + 1] == 'P' ? ' ' : '\0';
                if (all[i + 1] != 'P' && std::string_view("fFhHcCpQWAT").find(all[i + 1]) != std::string_view::npos)
                    i = std::min(all.find(';', i), all.size());
                else
                    ++i;
            } else if (all[i] != '{' && all[i] != '}') {
                out += all[i];
            }
        }
        std::erase(out, '\0');
        return trimmed(out);
    }
    static void arc(const Entity& e, DrawnShape& s) {
        const Point c = e.point(10);
        const double r = e.number(40), from = e.number(50);
        double angle = std::fmod(e.number(51) - from, 360.0);
        if (angle <= 0) angle += 360;
        if (!(r > 0)) return;
        // A bulge grows beyond measure near a whole turn: two halves.
        const double half = angle / 2, bulge = std::tan(half / 4 * std::numbers::pi / 180);
        s.vertices = {{c + turned({r, 0}, from), bulge},
                      {c + turned({r, 0}, from + half), bulge},
                      {c + turned({r, 0}, from + angle), 0}};
    }
    static void light_polyline(const Entity& e, DrawnShape& s) {
        s.is_closed = (e.integer(70) & 1) != 0, s.width = e.number(43);
        for (const Group& g : e.groups) {
            if (g.code == 1001) break;
            if (g.code == 10) s.vertices.push_back({{g.number(), 0}, 0});
            if (s.vertices.empty()) continue;
            if (g.code == 20) s.vertices.back().at.y = g.number();
            if (g.code == 42) s.vertices.back().bulge = g.number();
        }
    }
    void polyline(const Entity& e, DrawnShape& s, Block& to) {
        const int flags = e.integer(70);
        s.is_closed = (flags & 1) != 0, s.width = e.number(40);
        bool sound = true;
        while (!done() && groups_[at_].text == "VERTEX") {
            const Entity v = next();
            const int kind = v.integer(70);
            if ((kind & 16) != 0 || (kind & 8) != 0) continue;  // of a spline's frame; what fits it
            sound = sound && v.has_sound_numbers();
            s.vertices.push_back({v.point(10), v.number(42)});
        }
        if (!sound) {
            ++to.not_read[{s.layer, "POLYLINE with spoilt numbers"}];
            s.vertices.clear();
        }
        if ((flags & (4 | 16 | 64)) != 0) {
            ++to.not_read[{s.layer, (flags & 4) != 0 ? "POLYLINE drawn as a spline" : "POLYLINE that is a mesh"}];
            s.vertices.clear();
        }
    }
    void insert(const Entity& e, const Affine& plane, Block& to) {
        Insert i;
        i.block = e.text(2), i.layer = e.layer(), i.data = e.data();
        const double turn = e.number(50), sx = e.number(41, 1), sy = e.number(42, 1);
        const Point ux = turned({1, 0}, turn), at = e.point(10);
        i.at = plane.after({ux.x * sx, -ux.y * sy, ux.y * sx, ux.x * sy, at.x, at.y});
        i.columns = std::clamp(e.integer(70, 1), 1, 1000), i.rows = std::clamp(e.integer(71, 1), 1, 1000);
        i.column_step = e.number(44), i.row_step = e.number(45), i.turn = turn;
        to.inserts.push_back(std::move(i));
    }

    // Shapes on layer 0 of a block are on the layer that it is put in on.
    void expand(const Block& b, const Affine& t, const std::string& layer, int depth, int number) {
        auto layer_of = [&](const std::string& own) { return depth > 0 && own == "0" && !layer.empty() ? layer : own; };
        for (const DrawnShape& s : b.shapes) {
            if (out_.shapes.size() >= most_shapes)
                fail(fmt::format("more than {} shapes are in it", most_shapes), "keep the layers of the slab only");
            DrawnShape p = placed(s, t);
            p.layer = layer_of(s.layer), p.insert = number;
            if (number >= 0) p.data.insert(insert_data_.begin(), insert_data_.end());
            out_.shapes.push_back(std::move(p));
        }
        for (const auto& [what, n] : b.not_read) out_.not_read[{layer_of(what.first), what.second}] += n;
        for (const Insert& i : b.inserts) {
            const auto it = blocks_.find(i.block);
            if (it == blocks_.end() || depth >= deepest) {
                ++out_.not_read[{layer_of(i.layer), it == blocks_.end()
                                                        ? "INSERT of block " + i.block + ", which is not there"
                                                        : "INSERT of blocks in blocks in blocks"}];
                continue;
            }
            const Affine base{1, 0, 0, 1, -it->second.base.x, -it->second.base.y};
            for (int r = 0; r < i.rows; ++r)
                for (int c = 0; c < i.columns; ++c) {
                    const Point step = turned({c * i.column_step, r * i.row_step}, i.turn);
                    Affine at = i.at;
                    at.e += step.x, at.f += step.y;
                    if (depth == 0) insert_data_ = i.data;
                    expand(it->second, t.after(at).after(base), layer_of(i.layer), depth + 1,
                           number < 0 ? inserts_++ : number);
                }
        }
    }

    static constexpr size_t most_shapes = 500000;
    static constexpr int deepest = 8;
    std::vector<Group> groups_;
    size_t at_ = 0;
    bool ended_ = false;
    DrawingFile out_;
    Block model_;
    std::map<std::string, Block> blocks_;
    std::map<std::string, std::string> insert_data_;
    int inserts_ = 0;
};

}  // namespace

DrawingFile read_drawing(const std::string& bytes) {
    if (bytes.rfind("AC10", 0) == 0 && bytes.size() > 6 && bytes.find('\n') > 6)
        fail("it is a DWG file, which is not read", "save it as DXF");
    if (bytes.rfind("%PDF", 0) == 0) fail("it is a PDF file", "export the drawing as DXF");
    const bool binary = bytes.size() > 22 && bytes.compare(8, binary_mark.size(), binary_mark) == 0;
    std::vector<Group> groups = binary ? BinaryGroups(bytes).read() : groups_of_text(bytes);
    DrawingFile out = DrawingReader(std::move(groups)).read();
    out.is_binary = binary;
    return out;
}

}  // namespace mossbed
