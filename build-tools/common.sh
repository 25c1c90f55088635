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
  find "$home/pom.xml" "$home"/{core,terminal,demo,console,service,cli}/pom.xml "$home"/{core,terminal,demo,service,cli}/src/main "$home/console/src" \
    "$home"/console/{index.html,package.json,package-lock.json,vite.config.ts,tsconfig.json,build.mjs} "$@"
}

# Whether everything was built after the last change of any source.
is_built() {
  [ -f "$state/built" ] && [ -f "$home/cli/target/hapster-cli.jar" ] && [ -f "$home/service/target/app/hapster-service-runner.jar" ] &&
    [ -z "$(sources -newer "$state/built" -print -quit 2>/dev/null)" ]
}

# Client and service start sooner from archives of the classes that a small job needed; without them they work as well.
archive_classes() {
  local java="$1" work="$state/warm-up" jar="$home/cli/target/hapster-cli.jar" port="" i
  rm -rf "$work" "$state"/{service,client}.jsa
  mkdir -p "$work"/{jobs,datasets,in}
  printf 'dataset: samples\ncolumns:\n  - {name: id, type: text}\n  - {name: day, type: date}\n  - {name: value, type: "decimal(9,2)"}\n' >"$work/datasets/samples.yaml"
  printf 'job: samples\ninto: samples\nfind: [{folder: in, settle: 0s, take: "*.csv"}]\nkeep: "value > 0"\n' >"$work/jobs/samples.yaml"
  printf 'id,day,value\na,2026-01-31,1.50\nb,2026-02-30,x\n' >"$work/in/a.csv"
  mkfifo "$work/input" || return 0
  "$java" -XX:ArchiveClassesAtExit="$state/service.jsa" -Dhapster.ends-with-input=true -Dhapster.workspace="$work" -Dquarkus.http.port=0 \
    '-Dquarkus.log.category."io.quarkus".level=INFO' -jar "$home/service/target/app/hapster-service-runner.jar" <"$work/input" >"$work/log" 2>&1 &
  exec 8>"$work/input"
  for i in $(seq 300); do
    port=$(sed -n 's/.*Listening on: http[^ ]*:\([0-9]*\).*/\1/p' "$work/log")
    [ -z "$port" ] && kill -0 $! 2>/dev/null || break
    sleep 0.1
  done
  if [ -n "$port" ]; then
    "$java" -jar "$jar" --service "http://127.0.0.1:$port" jobs >/dev/null 2>&1
    "$java" -XX:TieredStopAtLevel=1 -XX:+UseSerialGC -XX:ArchiveClassesAtExit="$state/client.jsa" -jar "$jar" \
      --service "http://127.0.0.1:$port" run samples >/dev/null 2>&1
    "$java" -jar "$jar" --service "http://127.0.0.1:$port" rows samples >/dev/null 2>&1
  fi
  exec 8>&-
  wait $!
  rm -rf "$work"
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
  archive_classes "$(find_java)"
  mv "$stamp" "$state/built"
  exec 9>&-
  echo "Built." >&2
}
