/* Loaded before the system's own library: a disk that takes its time, or fails, for whoever waits for it. The file that SLOW_DISK names has how
   many milliseconds each wait takes; under 0: the disk fails. The folder that POWER_CUT names gets what is on the disk for sure: a copy of a file as
   it was when somebody last waited for it. The file that WAITED names gets a line for each wait: what for, and whether in the process's first thread,
   which answers everybody. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <fcntl.h>
#include <pthread.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

static pthread_mutex_t copying = PTHREAD_MUTEX_INITIALIZER;

/* Through the file's own number: whoever opens and closes a database once more loses SQLite's locks on it (fcntl(2)). */
static void copy(int fd, const char *to) {
  char link[64], from[4096], path[8192], part[8200];
  struct stat about;
  snprintf(link, sizeof link, "/proc/self/fd/%d", fd);
  ssize_t n = readlink(link, from, sizeof from - 1);
  if (n <= 0 || fstat(fd, &about) || !S_ISREG(about.st_mode)) return;
  from[n] = 0;
  snprintf(path, sizeof path, "%s/%s", to, strrchr(from, '/') + 1);
  snprintf(part, sizeof part, "%s.part", path);
  pthread_mutex_lock(&copying);
  int out = open(part, O_WRONLY | O_CREAT | O_TRUNC, 0644);
  static char buffer[1 << 20];
  off_t at = 0;
  for (ssize_t got; (got = pread(fd, buffer, sizeof buffer, at)) > 0; at += got)
    if (write(out, buffer, got) != got) abort();
  close(out);
  rename(part, path);
  pthread_mutex_unlock(&copying);
}

static void tell(int fd, const char *to) {
  char link[64], path[4096], line[4200];
  snprintf(link, sizeof link, "/proc/self/fd/%d", fd);
  ssize_t n = readlink(link, path, sizeof path - 1);
  if (n <= 0) return;
  path[n] = 0;
  int length = snprintf(line, sizeof line, "%s %s\n", gettid() == getpid() ? "all" : "one", path);
  int out = open(to, O_WRONLY | O_CREAT | O_APPEND, 0644);
  if (write(out, line, length) != length) abort();
  close(out);
}

static int slowed(const char *name, int fd) {
  int (*real)(int) = (int (*)(int))dlsym(RTLD_NEXT, name);
  const char *path = getenv("SLOW_DISK"), *to = getenv("POWER_CUT"), *waited = getenv("WAITED");
  FILE *told = path ? fopen(path, "r") : NULL;
  int ms = 0;
  if (told) {
    if (fscanf(told, "%d", &ms) != 1) ms = 0;
    fclose(told);
  }
  if (ms < 0) {
    errno = EIO;
    return -1;
  }
  usleep(ms * 1000);
  if (waited) tell(fd, waited);
  if (to) copy(fd, to);
  return real(fd);
}

int fsync(int fd) { return slowed("fsync", fd); }
int fdatasync(int fd) { return slowed("fdatasync", fd); }
