// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QLayout>

#include <memory>
#include <vector>

namespace wheelwright {

/// Parts side by side, as many in a line as there is room for; the others go on in the next, unless all of
/// them fit into one by being as small as they may. Words get longer in other languages, and a button is read
/// whole. What is aligned right stands at the end of its line; what wants all the room (Expanding) shares
/// what its line has left.
class WrapRow : public QLayout {
  public:
    explicit WrapRow(QWidget *parent = nullptr);
    ~WrapRow() override;
    WrapRow(const WrapRow &) = delete;
    WrapRow &operator=(const WrapRow &) = delete;

    void addItem(QLayoutItem *item) override; ///< takes it
    int count() const override;
    QLayoutItem *itemAt(int index) const override;
    QLayoutItem *takeAt(int index) override;
    Qt::Orientations expandingDirections() const override { return {}; }
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override;    ///< of one line
    QSize minimumSize() const override; ///< of the widest part
    void setGeometry(const QRect &rect) override;

  private:
    struct Line {
        std::vector<QLayoutItem *> items;
        int width = 0, least = 0, height = 0; ///< of the items with what is between them
    };
    std::vector<Line> linesIn(int width) const;
    void place(const Line &line, const QRect &room) const;

    std::vector<std::unique_ptr<QLayoutItem>> m_items;
};

} // namespace wheelwright
