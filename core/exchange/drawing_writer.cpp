#include "core/exchange/drawing_writer.h"

#include <dxflib/dl_dxf.h>
#include <fmt/format.h>
#include <sys/mman.h>
#include <unistd.h>

#include "core/base/problem.h"
#include "core/exchange/thing_data.h"

namespace mossbed {
namespace {

struct WrittenLayer {
    const char* name;
    int color;
};
constexpr std::array<WrittenLayer, 10> layers{{{"SLAB", 7},
                                               {"OPENINGS", 1},
                                               {"PATCHES", 3},
                                               {"COLUMNS", 5},
                                               {"WALLS", 6},
                                               {"RIBS", 4},
                                               {"PILES", 2},
                                               {"GRID", 8},
                                               {"GROUND", 32},
                                               {"NAMES", 9}}};
constexpr const char* application = "MOSSBED";
constexpr double mm = 1000;

// Signs beyond ASCII as "\U+00FC", since the file has a code page of its own.
std::string in_ascii(const std::string& utf8) {
    std::string out;
    for (size_t i = 0; i < utf8.size();) {
        const auto c = uint8_t(utf8[i]);
        const size_t n = c < 0x80 ? 1 : c < 0xE0 ? 2 : c < 0xF0 ? 3 : 4;
        uint32_t sign = n == 1 ? c : c & (0xFF >> (n + 1));
        for (size_t k = 1; k < n && i + k < utf8.size(); ++k) sign = sign << 6 | (uint8_t(utf8[i + k]) & 0x3F);
        out += n == 1 ? std::string(1, char(c)) : n < 4 ? fmt::format("\\U+{:04X}", sign) : "?";
        i += n;
    }
    return out;
}

// A file in memory that the library writes to by its name.
class MemoryFile {
  public:
    MemoryFile() : file_(memfd_create("drawing", 0)) {
        if (file_ < 0)
            throw Trouble({"no memory is left for it", "the drawing", "close other programs", Severity::error, {}});
    }
    ~MemoryFile() { close(file_); }
    MemoryFile(const MemoryFile&) = delete;
    MemoryFile& operator=(const MemoryFile&) = delete;
    std::string name() const { return fmt::format("/proc/self/fd/{}", file_); }
    std::string text() const {
        std::string out;
        char part[1 << 16];
        for (off_t at = 0;;) {
            const ssize_t n = pread(file_, part, sizeof part, at);
            if (n <= 0) return out;
            out.append(part, size_t(n)), at += n;
        }
    }

  private:
    int file_;
};

class DrawingWriter {
  public:
    explicit DrawingWriter(DL_WriterA& to) : to_(to) {}
    void write(const Model& m) {
        head();
        to_.sectionEntities();
        slab(m.slab);
        for (const Opening& o : m.slab.openings) shape("OPENINGS", o.outline, data_of(o));
        for (const SlabPatch& p : m.slab.patches) {
            shape("PATCHES", p.outline, data_of(p));
            text(centroid(p.outline), fmt::format("{:g} thick", std::round(p.thickness * mm)));
        }
        for (const Column& c : m.columns) column(c);
        for (const Wall& w : m.walls) path("WALLS", w.path, data_of(w)), text(w.path[0], w.id);
        for (const Rib& r : m.ribs) path("RIBS", r.path, data_of(r)), text(r.path[0], r.id);
        for (const Pile& p : m.piles) {
            circle("PILES", {p.at, p.diameter / 2}, data_of(p));
            text(p.at + Point{p.diameter / 2, p.diameter / 2}, p.id);
        }
        for (const SettingOutLine& l : m.setting_out) path("GRID", l.path, data_of(l)), text(l.path[0], l.id);
        for (const GroundPatch& g : m.ground.patches) shape("GROUND", Shape(g.outline), data_of(g));
        to_.sectionEnd();
        dxf_.writeObjects(to_);
        dxf_.writeObjectsEnd(to_);
        to_.dxfEOF();
    }

  private:
    void head() {
        dxf_.writeHeader(to_);
        to_.dxfString(9, "$INSUNITS"), to_.dxfInt(70, 4);
        to_.sectionEnd();
        to_.sectionTables();
        dxf_.writeVPort(to_);
        to_.tableLinetypes(3);
        for (const char* type : {"CONTINUOUS", "BYLAYER", "BYBLOCK"})
            dxf_.writeLinetype(to_, DL_LinetypeData(type, type, 0, 0, 0.0));
        to_.tableEnd();
        to_.tableLayers(int(layers.size()) + 1);
        dxf_.writeLayer(to_, DL_LayerData("0", 0), DL_Attributes("", DL_Codes::black, -1, "CONTINUOUS", 1.0));
        for (const WrittenLayer& l : layers)
            dxf_.writeLayer(to_, DL_LayerData(l.name, 0), DL_Attributes("", l.color, -1, "CONTINUOUS", 1.0));
        to_.tableEnd();
        to_.tableStyle(1);
        dxf_.writeStyle(to_, DL_StyleData("Standard", 0, 0.0, 1.0, 0.0, 0, 2.5, "txt", ""));
        to_.tableEnd();
        dxf_.writeView(to_);
        dxf_.writeUcs(to_);
        to_.tableAppid(2);
        dxf_.writeAppid(to_, "ACAD");
        dxf_.writeAppid(to_, application);
        to_.tableEnd();
        dxf_.writeDimStyle(to_, 2.5, 1, 1, 0.6, 2.5);
        dxf_.writeBlockRecord(to_);
        to_.tableEnd();
        to_.sectionEnd();
        to_.sectionBlocks();
        for (const char* block : {"*Model_Space", "*Paper_Space", "*Paper_Space0"}) {
            dxf_.writeBlock(to_, DL_BlockData(block, 0, 0.0, 0.0, 0.0));
            dxf_.writeEndBlock(to_, block);
        }
        to_.sectionEnd();
    }

    static DL_Attributes on(const char* layer) { return {layer, 256, -1, "BYLAYER", 1.0}; }
    // Values of 255 bytes at most, as the format asks.
    void data(const ThingData& of) {
        to_.dxfString(1001, application);
        for (const auto& [key, value] : of)
            if (const std::string line = in_ascii(key + "=" + value);
                line.size() <= 255 && line.find('\n') == line.npos)
                to_.dxfString(1000, line);
    }
    void path(const char* layer, const std::vector<Point>& p, const ThingData& of, bool closed = false) {
        dxf_.writePolyline(to_, DL_PolylineData(int(p.size()), 0, 0, closed ? 1 : 0), on(layer));
        for (Point q : p) dxf_.writeVertex(to_, DL_VertexData(q.x * mm, q.y * mm, 0.0));
        dxf_.writePolylineEnd(to_);
        data(of);
    }
    void circle(const char* layer, const Circle& c, const ThingData& of) {
        dxf_.writeCircle(to_, DL_CircleData(c.centre.x * mm, c.centre.y * mm, 0, c.radius * mm), on(layer));
        data(of);
    }
    void shape(const char* layer, const Shape& s, const ThingData& of) {
        if (const auto c = s.circle())
            circle(layer, *c, of);
        else
            path(layer, s, of, true);
    }
    void text(Point at, const std::string& words) {
        if (words.empty()) return;
        dxf_.writeText(to_,
                       DL_TextData(at.x * mm, at.y * mm, 0, at.x * mm, at.y * mm, 0, 250, 1.0, 0, 0, 0, in_ascii(words),
                                   "Standard", 0.0),
                       on("NAMES"));
    }
    void slab(const Slab& s) {
        const ThingData of = data_of(s);
        if (const auto* ring = std::get_if<Polygon>(&s.outline)) {
            if (!ring->empty()) path("SLAB", *ring, of, true);
        } else if (const auto* c = std::get_if<Circle>(&s.outline)) {
            circle("SLAB", *c, of);
        } else {
            const Ring& r = std::get<Ring>(s.outline);
            circle("SLAB", {r.centre, r.outer}, of);
            circle("SLAB", {r.centre, r.inner}, {});
        }
    }
    void column(const Column& c) {
        if (c.round())
            circle("COLUMNS", {c.at, c.size[0] / 2}, data_of(c));
        else
            path("COLUMNS", rectangle(c.at, c.size[0], c.size[1], c.angle), data_of(c), true);
        text(c.at + Point{c.size[0] / 2 + 0.1, c.size[0] / 2 + 0.1}, c.id);
    }

    DL_Dxf dxf_;
    DL_WriterA& to_;
};

}  // namespace

std::string write_drawing(const Model& model) {
    MemoryFile file;
    {
        DL_WriterA to(file.name().c_str(), DL_VERSION_2000);
        if (to.openFailed()) throw Trouble({"it cannot be written", "the drawing", "try again", Severity::error, {}});
        DrawingWriter(to).write(model);
        to.close();
    }
    return file.text();
}

}  // namespace mossbed
