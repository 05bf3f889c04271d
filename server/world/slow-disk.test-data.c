/* Loaded before the system's own library: a disk that takes its time, or fails, for whoever waits for it. The file that SLOW_DISK names has how
   many milliseconds each wait takes; under 0: the disk fails. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <unistd.h>

static int slowed(const char *name, int fd) {
  int (*real)(int) = (int (*)(int))dlsym(RTLD_NEXT, name);
  const char *path = getenv("SLOW_DISK");
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
  return real(fd);
}

int fsync(int fd) { return slowed("fsync", fd); }
int fdatasync(int fd) { return slowed("fdatasync", fd); }
