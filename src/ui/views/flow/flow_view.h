// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/views/view.h"

#include <vector>

namespace wheelwright {

class FlowPage;
class FrontierPlot;
class PageSwitch;

/// Will the hardware deliver it? The frontier first; then injectors, pumps, boost control, spray, and
/// mechanical injection, each with what it says about itself.
class FlowView : public View {
    Q_OBJECT
  public:
    explicit FlowView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    FrontierPlot *plot() const;
    QString wordsOf(const char *page) const; ///< "frontier", "injectors" …
    void showPage(const char *page);

  private:
    PageSwitch *m_pages;
    std::vector<FlowPage *> m_list;
};

} // namespace wheelwright
