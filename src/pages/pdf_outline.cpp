// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/pdf_outline.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>

#include <algorithm>

namespace wheelwright {

// Two levels: each heading of the second hangs on the one of the first before it.
std::string withOutline(const std::string &pdf, const std::vector<OutlineEntry> &entries,
                        const std::string &remark) {
    QPDF file;
    file.processMemoryFile("report", pdf.data(), pdf.size());
    const std::vector<QPDFObjectHandle> &pages = file.getAllPages();
    const auto node = [&] { return file.makeIndirectObject(QPDFObjectHandle::newDictionary()); };
    struct Parent {
        QPDFObjectHandle object, last{};
        int children = 0;
    };
    const auto hang = [](Parent &parent, QPDFObjectHandle child) {
        child.replaceKey("/Parent", parent.object);
        if (parent.children++ == 0) {
            parent.object.replaceKey("/First", child);
        } else {
            child.replaceKey("/Prev", parent.last);
            parent.last.replaceKey("/Next", child);
        }
        parent.object.replaceKey("/Last", child);
        parent.last = child;
    };
    Parent root{node()}, chapter = root;
    const auto close = [](Parent &parent) {
        // Below nought: closed until the reader opens it.
        if (parent.children > 0)
            parent.object.replaceKey("/Count", QPDFObjectHandle::newInteger(-parent.children));
    };
    bool any = false;
    for (const OutlineEntry &e : entries) {
        QPDFObjectHandle item = node();
        item.replaceKey("/Title", QPDFObjectHandle::newUnicodeString(e.title));
        QPDFObjectHandle to = QPDFObjectHandle::newArray();
        to.appendItem(pages.at(std::min(static_cast<std::size_t>(e.page), pages.size() - 1)));
        to.appendItem(QPDFObjectHandle::newName("/Fit"));
        item.replaceKey("/Dest", to);
        if (e.level == 1 || !any) {
            if (any) close(chapter);
            hang(root, item);
            chapter = {item};
            any = true;
        } else {
            hang(chapter, item);
        }
    }
    close(chapter);
    root.object.replaceKey("/Type", QPDFObjectHandle::newName("/Outlines"));
    root.object.replaceKey("/Count", QPDFObjectHandle::newInteger(root.children));
    file.getRoot().replaceKey("/Outlines", root.object);
    file.getRoot().replaceKey("/PageMode", QPDFObjectHandle::newName("/UseOutlines"));
    if (!remark.empty())
        file.getTrailer().getKey("/Info").replaceKey("/WheelwrightRemark",
                                                     QPDFObjectHandle::newString(remark));
    QPDFWriter writer(file);
    writer.setOutputMemory();
    writer.setObjectStreamMode(qpdf_o_disable);
    writer.setDeterministicID(true);
    writer.write();
    const auto bytes = writer.getBufferSharedPointer();
    return {reinterpret_cast<const char *>(bytes->getBuffer()), bytes->getSize()};
}

} // namespace wheelwright
