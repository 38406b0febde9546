# A private PostgreSQL cluster on loopback. Sourced by the other scripts; PostgreSQL refuses to run as root, so root
# hands it to the postgres account.

fail() { echo "ourlet: $*" >&2; exit 1; }

pg_bin() {
  local found
  found=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1)
  [ -n "$found" ] || fail "PostgreSQL is not installed (apt-get install postgresql)"
  echo "$found"
}

as_pg() {
  if [ "$(id -u)" = 0 ]; then runuser -u postgres -- "$@"; else "$@"; fi
}

# a loopback port that nothing listens on
free_port() {
  local port
  for port in $(shuf -i 20000-30000 -n 50); do
    port_taken "$port" || { echo "$port"; return; }
  done
  fail "no free port was found"
}

port_taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

# pg_start FOLDER PORT: makes the cluster when it is new, and starts it
pg_start() {
  local folder=$1 port=$2 bin
  bin=$(pg_bin)
  mkdir -p "$folder"
  [ "$(id -u)" = 0 ] && chown postgres "$folder"
  chmod 700 "$folder"
  if [ ! -s "$folder/PG_VERSION" ]; then
    (cd / && as_pg "$bin/initdb" -D "$folder" -U ourlet -A trust -E UTF8 --no-locale) >/dev/null || fail "the database folder $folder could not be made (is the disk full?)"
  fi
  if (cd / && as_pg "$bin/pg_ctl" -D "$folder" status) >/dev/null 2>&1; then return; fi
  port_taken "$port" && fail "port $port is in use; set OURLET_DB_PORT to a free one"
  (cd / && as_pg "$bin/pg_ctl" -D "$folder" -w -l "$folder/server.log" \
    -o "-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories='' -c max_connections=200" start) >/dev/null \
    || fail "the database did not start; see $folder/server.log"
}

pg_stop() {
  (cd / && as_pg "$(pg_bin)/pg_ctl" -D "$1" -m fast -w stop) >/dev/null 2>&1 || true
}
