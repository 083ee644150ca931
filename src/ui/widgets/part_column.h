// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QWidget>

#include <string_view>
#include <vector>

namespace wheelwright {

class PartButton;
class PartPanel;
class Session;

/// Some parts of the engine, as the intake sheet draws them, with the few fields of the one that is chosen
/// below: where a station works with them.
class PartColumn : public QWidget {
    Q_OBJECT
  public:
    PartColumn(Session &session, const std::vector<std::string_view> &parts, QWidget *parent = nullptr);
    bool showInput(const QString &path); ///< brings a field of them into reach; false when it is not here
    bool holds(const QString &path) const;
    PartPanel *panel() const { return m_panel; }

  private:
    void choose(std::string_view part);
    void clicked(const PartButton *button);
    void refresh();
    void recolour(); ///< nothing but the hue of the fuel follows the content

    Session &m_session;
    std::vector<PartButton *> m_buttons;
    PartPanel *m_panel;
};

} // namespace wheelwright
