// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QString>
#include <QWidget>

#include <array>
#include <optional>

namespace wheelwright {

/// The numbers under the cursor in all three tables, large enough to be read from two metres: base, now, top.
class CursorReadout : public QWidget {
    Q_OBJECT
  public:
    explicit CursorReadout(QWidget *parent = nullptr);
    void show(const std::array<QString, 3> &numbers, const std::array<std::optional<double>, 3> &contents);
    QSize sizeHint() const override { return {210, 32}; }
    QSize minimumSizeHint() const override { return sizeHint(); }

  protected:
    void paintEvent(QPaintEvent *event) override;

  private:
    std::array<QString, 3> m_numbers;
    std::array<std::optional<double>, 3> m_contents{};
};

} // namespace wheelwright
