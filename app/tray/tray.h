// The Tray: a page for what is in hand. No dialogs.
#pragma once
#include <QScrollArea>

#include "app/tray/page.h"

namespace mossbed {

class Tray : public QScrollArea {
    Q_OBJECT
  public:
    explicit Tray(Desk* desk, QWidget* parent = nullptr);
    int wanted_height() const;                 // of the whole page
    void show_field(const std::string& path);  // scrolled to and in hand, where the page has it

  Q_SIGNALS:
    void tool_wanted(mossbed::ToolKind tool);
    void example_wanted(const QString& file);
    void table_wanted(mossbed::TableKind kind);
    void combinations_wanted();
    void punching_wanted();
    void page_turned();
    void working_wanted(std::string key);

  protected:
    bool eventFilter(QObject* of, QEvent* e) override;  // of choices and sliders

  private:
    void turn_to_page();  // another one when another thing is in hand
    Desk* desk_;
    Page* page_ = nullptr;
    std::string built_for_;  // the page's key when it was made
};

}  // namespace mossbed
