// The Tray: the thing in hand, its numbers, and what can be done with it. No dialogs.
#pragma once
#include <QScrollArea>
#include <QTableWidget>
#include <functional>

#include "app/field.h"
#include "app/tools/tool.h"

namespace mossbed {

struct FieldOptions {
    double low = -1e300, high = 1e300;
    bool open_low = false, optional = false;
    std::function<bool(const Model&)> standard;  // whether it is a default that nobody owns
};

class Tray : public QScrollArea {
    Q_OBJECT
  public:
    explicit Tray(Desk* desk, QWidget* parent = nullptr);

  Q_SIGNALS:
    void tool_wanted(mossbed::ToolKind tool);
    void demo_wanted();

  private:
    using Get = std::function<std::optional<double>(const Model&)>;
    using Put = std::function<void(Model&, std::optional<double>)>;
    void rebuild();  // other thing in hand
    void refresh();  // same thing, other numbers
    void heading(const QString& text, const QString& right = {});
    void words(const QString& text, const char* name = nullptr, bool fault = false);
    Field* field(const QString& label, Dimension unit, const QString& name, const QString& deed, Get get, Put put,
                 FieldOptions o = {});
    void choice(const QString& label, const QString& name, const QStringList& shown,
                const std::vector<std::string>& values, const QString& deed,
                std::function<std::string(const Model&)> get, std::function<void(Model&, const std::string&)> put);
    // The words of an enumeration, shown as they are or by `titles`.
    template <HasWords E>
    void choice(const QString& label, const QString& name, const QString& deed, std::function<E(const Model&)> get,
                std::function<void(Model&, E)> put, QStringList titles = {}) {
        const std::vector<std::string> values(Words<E>::all.begin(), Words<E>::all.end());
        if (titles.isEmpty())
            for (const std::string& v : values) titles << QString::fromStdString(v);
        choice(
            label, name, titles, values, deed, [get](const Model& m) { return std::string(name_of(get(m))); },
            [put](Model& m, const std::string& v) { put(m, *from_word<E>(v)); });
    }
    void tick(const QString& label, const QString& name, const QString& deed, std::function<bool(const Model&)> get,
              std::function<void(Model&, bool)> put);
    void button(const QString& text, const QString& name, std::function<void()> deed);
    QTableWidget* table(int columns, const QStringList& heads, const QString& name);
    void live(std::function<QString()> text, const char* name);  // a line that follows the answer

    void build_ground();
    void build_taking();
    void strata_table();
    void borehole_tables();
    void build_slab();
    void build_rim(int side);
    void build_loads();
    void build_columns();
    void build_contact();
    void build_shear();
    void build_steel();
    void build_sheets();
    void build_beginnings();
    void fill_combinations();
    void fill_column_loads();

    Desk* desk_;
    QWidget* body_ = nullptr;
    class QVBoxLayout* box_ = nullptr;
    std::vector<std::function<void()>> refreshers_;
    std::string built_for_;
    bool filling_ = false;
    double plate_modulus_ = 60000;  // kN/m³, of a plate test that is being turned into a modulus
    QTableWidget *combinations_ = nullptr, *column_loads_ = nullptr;
};

}  // namespace mossbed
