// What is on the desk, kept beside its file a few seconds after each edit, so that a crash or a power cut costs no more
// than that. The copy is named NAME~recoveryPID; one whose process has died is offered when the file is opened again.
// Where the folder may not be written to, and for models without a file, copies lie in the application's data folder.
// Written by one thread of its own: the hand never waits for the disk.
#pragma once
#include <QObject>
#include <QThreadPool>
#include <QTimer>
#include <optional>

#include "app/document.h"

namespace mossbed {

class Recovery : public QObject {
    Q_OBJECT
  public:
    explicit Recovery(Document* document, QObject* parent = nullptr);
    ~Recovery() override;  // an orderly end leaves no copy

    struct Copy {
        QString path;
        Model model;
    };
    // The newest copy that a dead process left of this file (empty: of a model without one) and that differs from
    // `now`. Copies that say the same as the file are removed.
    static std::optional<Copy> left_behind(const QString& file, const Model& now);
    static void remove(const QString& copy);

    void forget();     // the model is saved or given up: its copy goes
    void write_now();  // for tests and for leaving in a hurry; waits until it is written
    QString copy_path() const { return copies_.isEmpty() ? QString() : copies_.first(); }  // where it is tried first

  private:
    void changed();
    void write();
    Document* document_;
    QTimer soon_;    // after the last edit of a series
    QTimer latest_;  // in a series without end
    QThreadPool writer_;
    QStringList copies_;  // that may exist, or are being written
};

}  // namespace mossbed
