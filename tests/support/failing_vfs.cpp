// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/failing_vfs.h"

#include <sqlite3.h>

namespace wheelwright::testing {
namespace {

bool diskFull = false;
int failAt = 0;
int counted = 0;

sqlite3_vfs *below() {
    return sqlite3_vfs_find("unix");
}

bool fails() {
    return ++counted >= failAt && failAt > 0;
}

struct File {
    sqlite3_file head;
    sqlite3_file *real() { return reinterpret_cast<sqlite3_file *>(this + 1); }
};

File *self(sqlite3_file *f) {
    return reinterpret_cast<File *>(f);
}
const sqlite3_io_methods *methods(sqlite3_file *f) {
    return self(f)->real()->pMethods;
}

int close(sqlite3_file *f) {
    return methods(f)->xClose(self(f)->real());
}
int read(sqlite3_file *f, void *to, int count, sqlite3_int64 at) {
    return methods(f)->xRead(self(f)->real(), to, count, at);
}
int write(sqlite3_file *f, const void *from, int count, sqlite3_int64 at) {
    if (fails()) {
        // A torn write: half of it reaches the disk.
        methods(f)->xWrite(self(f)->real(), from, count / 2, at);
        return diskFull ? SQLITE_FULL : SQLITE_IOERR_WRITE;
    }
    return methods(f)->xWrite(self(f)->real(), from, count, at);
}
int truncate(sqlite3_file *f, sqlite3_int64 size) {
    return fails() ? SQLITE_IOERR_TRUNCATE : methods(f)->xTruncate(self(f)->real(), size);
}
int sync(sqlite3_file *f, int flags) {
    return fails() ? SQLITE_IOERR_FSYNC : methods(f)->xSync(self(f)->real(), flags);
}
int fileSize(sqlite3_file *f, sqlite3_int64 *size) {
    return methods(f)->xFileSize(self(f)->real(), size);
}
int lock(sqlite3_file *f, int level) {
    return methods(f)->xLock(self(f)->real(), level);
}
int unlock(sqlite3_file *f, int level) {
    return methods(f)->xUnlock(self(f)->real(), level);
}
int reserved(sqlite3_file *f, int *out) {
    return methods(f)->xCheckReservedLock(self(f)->real(), out);
}
int control(sqlite3_file *f, int op, void *arg) {
    return methods(f)->xFileControl(self(f)->real(), op, arg);
}
int sector(sqlite3_file *f) {
    return methods(f)->xSectorSize(self(f)->real());
}
int traits(sqlite3_file *f) {
    return methods(f)->xDeviceCharacteristics(self(f)->real());
}

const sqlite3_io_methods ioMethods{1,       close,   read,     write,   truncate, sync,   fileSize,
                                   lock,    unlock,  reserved, control, sector,   traits, nullptr,
                                   nullptr, nullptr, nullptr,  nullptr, nullptr};

int open(sqlite3_vfs *, const char *name, sqlite3_file *f, int flags, int *out) {
    f->pMethods = nullptr;
    if ((flags & SQLITE_OPEN_MAIN_JOURNAL) && fails()) return SQLITE_CANTOPEN;
    const int result = below()->xOpen(below(), name, self(f)->real(), flags, out);
    if (result == SQLITE_OK) f->pMethods = &ioMethods;
    return result;
}

int remove(sqlite3_vfs *, const char *name, int syncDirectory) {
    return fails() ? SQLITE_IOERR_DELETE : below()->xDelete(below(), name, syncDirectory);
}
int access(sqlite3_vfs *, const char *name, int flags, int *out) {
    return below()->xAccess(below(), name, flags, out);
}
int fullPath(sqlite3_vfs *, const char *name, int size, char *out) {
    return below()->xFullPathname(below(), name, size, out);
}
int randomness(sqlite3_vfs *, int size, char *out) {
    return below()->xRandomness(below(), size, out);
}
int sleep(sqlite3_vfs *, int us) {
    return below()->xSleep(below(), us);
}
int currentTime(sqlite3_vfs *, double *out) {
    return below()->xCurrentTime(below(), out);
}
int lastError(sqlite3_vfs *, int size, char *out) {
    return below()->xGetLastError(below(), size, out);
}

sqlite3_vfs vfs{};

} // namespace

const char *FailingVfs::name() {
    if (!vfs.zName) {
        vfs.iVersion = 1;
        vfs.szOsFile = static_cast<int>(sizeof(File)) + below()->szOsFile;
        vfs.mxPathname = below()->mxPathname;
        vfs.zName = "wheelwright-failing";
        vfs.xOpen = open;
        vfs.xDelete = remove;
        vfs.xAccess = access;
        vfs.xFullPathname = fullPath;
        vfs.xRandomness = randomness;
        vfs.xSleep = sleep;
        vfs.xCurrentTime = currentTime;
        vfs.xGetLastError = lastError;
        sqlite3_vfs_register(&vfs, 0);
    }
    return vfs.zName;
}

void FailingVfs::failFrom(int operation, bool full) {
    failAt = operation;
    diskFull = full;
    counted = 0;
}

int FailingVfs::operations() {
    return counted;
}

} // namespace wheelwright::testing
