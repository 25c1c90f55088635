# Shared by ./hapster and ./dev. Expects $home and $state.

# Prints the major version of a java, from the file that lies beside it, or else by asking it.
java_version() {
  local release
  release="$(dirname "$(dirname "$(readlink -f "$1")")")/release"
  if [ -f "$release" ]; then
    sed -n 's/^JAVA_VERSION="\([0-9]*\).*/\1/p' "$release"
  else
    "$1" -XshowSettings:properties -version 2>&1 | sed -n 's/.*java\.specification\.version = \([0-9]*\).*/\1/p'
  fi
}

# Prints the path of a Java 17 or newer, from JAVA_HOME or the path.
find_java() {
  local candidate version
  for candidate in "${JAVA_HOME:+$JAVA_HOME/bin/java}" "$(command -v java 2>/dev/null)"; do
    [ -n "$candidate" ] && [ -x "$candidate" ] || continue
    version=$(java_version "$candidate")
    if [ -n "$version" ] && [ "$version" -ge 17 ]; then
      echo "$candidate"
      return 0
    fi
  done
  echo "Hapster needs a Java 17 or newer. Install one (on Debian: apt-get install openjdk-17-jdk-headless) or set JAVA_HOME to it." >&2
  return 1
}

# Installs Debian packages where we may and whoever called wants it ($may_install), or says what is missing.
# The first argument says what for.
install_packages() {
  local why="$1"
  shift
  if [ -n "${may_install:-}" ] && [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
    echo "Installing $* from Debian's packages, $why …" >&2
    { apt-get install -y --no-install-recommends "$@" || { apt-get update && apt-get install -y --no-install-recommends "$@"; }; } >"$state/apt.log" 2>&1 && return 0
    echo "That failed; its log is $state/apt.log" >&2
    return 1
  fi
  echo "Missing: $*, $why. Install it (on Debian, as root: apt-get install $*)." >&2
  return 1
}

need_build_tools() {
  mkdir -p "$state"
  command -v mvn >/dev/null 2>&1 || install_packages "which builds Hapster" maven || return 1
  local javac
  javac="$(dirname "$(find_java)")/javac"
  [ -x "$javac" ] || { echo "The Java found has no compiler; a JDK is needed to build (on Debian: apt-get install openjdk-17-jdk-headless)." >&2; return 1; }
  if ! command -v npm >/dev/null 2>&1 || [ "$(node -p 'parseInt(process.versions.node)' 2>/dev/null || echo 0)" -lt 20 ]; then
    echo "Building the console needs Node 20 or newer with npm on the path; none was found." >&2
    return 1
  fi
}

sources() {
  find "$home/pom.xml" "$home"/{core,demo,console,service,cli}/pom.xml "$home"/{core,demo,service,cli}/src/main "$home/console/src" \
    "$home"/console/{index.html,package.json,package-lock.json,vite.config.ts,tsconfig.json,build.mjs} "$@"
}

# Whether everything was built after the last change of any source.
is_built() {
  [ -f "$state/built" ] && [ -f "$home/cli/target/hapster-cli.jar" ] && [ -f "$home/service/target/quarkus-app/quarkus-run.jar" ] &&
    [ -z "$(sources -newer "$state/built" -print -quit 2>/dev/null)" ]
}

# Builds all modules without tests; tells which one is in work.
build() {
  need_build_tools || return 1
  if command -v flock >/dev/null 2>&1; then # two of us at once would spoil each other's work
    exec 9>"$state/lock"
    flock -n 9 || { echo "Waiting for another build of Hapster …" >&2; flock 9; }
    is_built && { exec 9>&-; return 0; }
  fi
  echo "Building Hapster (the first time takes a few minutes, with downloads) …" >&2
  local stamp="$state/building" log="$state/build.log"
  : >"$stamp"
  (cd "$home" && JAVA_HOME="$(dirname "$(dirname "$(readlink -f "$(find_java)")")")" mvn -B -ntp -DskipTests package) 2>&1 | tee "$log" |
    sed -un 's/^\[INFO\] Building \(Hapster [a-z]*\).*\(\[[0-9]*\/[0-9]*\]\)$/  \1 \2/p' >&2
  if [ "${PIPESTATUS[0]}" != 0 ]; then
    echo "The build failed; its log is $log:" >&2
    grep -m 12 '^\[ERROR\]' "$log" >&2
    return 1
  fi
  # Client and service start sooner from an archive of their classes; without one they work as well.
  rm -rf "$state/warm-up" "$state/service.jsa" && mkdir -p "$state/warm-up"
  "$(find_java)" -XX:ArchiveClassesAtExit="$state/service.jsa" -Dhapster.ends-with-input=true -Dhapster.workspace="$state/warm-up" -Dquarkus.http.port=0 \
    -jar "$home/service/target/quarkus-app/quarkus-run.jar" </dev/null >/dev/null 2>&1
  rm -rf "$state/warm-up"
  "$(find_java)" -XX:TieredStopAtLevel=1 -XX:+UseSerialGC -XX:ArchiveClassesAtExit="$state/client.jsa" -jar "$home/cli/target/hapster-cli.jar" \
    --service http://127.0.0.1:9 jobs >/dev/null 2>&1
  mv "$stamp" "$state/built"
  exec 9>&-
  echo "Built." >&2
}
