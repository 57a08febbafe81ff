// Pictures of the main views, for the documentation and for a machine without a display.
#pragma once
#include <QString>

namespace mossbed {
int make_shots(const QString& model, const QString& folder);  // exit code
}
