# A private PostgreSQL cluster on loopback. Sourced by the other scripts; PostgreSQL refuses to run as root, so root
# hands it to the postgres account.
#
# Nobody gets in without a password (scram). The application has a plain role, `ourlet`, whose password file lies beside
# the cluster as FOLDER.pass; that of the superuser `keeper`, which only these scripts use, as FOLDER.admin.

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

# password_line ROLE: a new password in the form of a password file
password_line() {
  echo "127.0.0.1:*:*:$1:$(head -c 24 /dev/urandom | od -An -tx1 | tr -d ' \n')"
}

# pg_password FOLDER: that of the plain role
pg_password() { cut -d: -f5 "$1.pass"; }

# admin FOLDER PORT psql-arguments...: as the superuser
admin() {
  local folder=$1 port=$2
  shift 2
  PGPASSFILE="$folder.admin" "$(pg_bin)/psql" -q -v ON_ERROR_STOP=1 "postgres://keeper@127.0.0.1:$port/postgres" "$@"
}

# pg_start FOLDER PORT: makes the cluster when it is new, and starts it
pg_start() {
  local folder=$1 port=$2 bin fresh=
  bin=$(pg_bin)
  mkdir -p "$folder"
  [ "$(id -u)" = 0 ] && chown postgres "$folder"
  chmod 700 "$folder"
  if [ ! -s "$folder/PG_VERSION" ]; then
    (umask 077 && password_line keeper >"$folder.admin" && rm -f "$folder.pass")
    fresh=1
    local secret
    secret=$(mktemp)
    cut -d: -f5 "$folder.admin" >"$secret"
    [ "$(id -u)" = 0 ] && chown postgres "$secret"
    (cd / && as_pg "$bin/initdb" -D "$folder" -U keeper -A scram-sha-256 --pwfile="$secret" -E UTF8 --no-locale) >/dev/null || {
      rm -f "$secret"
      fail "the database folder $folder could not be made (is the disk full?)"
    }
    rm -f "$secret"
  fi
  if (cd / && as_pg "$bin/pg_ctl" -D "$folder" status) >/dev/null 2>&1; then return; fi
  port_taken "$port" && fail "port $port is in use; set OURLET_DB_PORT to a free one"
  (cd / && as_pg "$bin/pg_ctl" -D "$folder" -w -l "$folder/server.log" \
    -o "-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories='' -c max_connections=200" start) >/dev/null \
    || fail "the database did not start; see $folder/server.log"
  [ -n "$fresh" ] || [ -s "$folder.pass" ] || close_open_cluster "$folder" "$port"
  [ -s "$folder.pass" ] || {
    (umask 077 && password_line ourlet >"$folder.pass.new")
    admin "$folder" "$port" -c "CREATE ROLE ourlet LOGIN PASSWORD '$(cut -d: -f5 "$folder.pass.new")'" && mv "$folder.pass.new" "$folder.pass"
  } || fail "the database's role could not be made"
}

# pg_database FOLDER PORT NAME: makes a database of the plain role unless it is there
pg_database() {
  admin "$1" "$2" -tAc "SELECT 1 FROM pg_database WHERE datname = '$3'" | grep -q 1 || admin "$1" "$2" -c "CREATE DATABASE $3 OWNER ourlet"
}

# close_open_cluster FOLDER PORT: a cluster of an earlier build let every local account in as its superuser `ourlet`; that
# one becomes `keeper`, what it owned goes to the new plain role, and from then on passwords are asked for
close_open_cluster() {
  local folder=$1 port=$2 bin at plain keeper
  bin=$(pg_bin)
  at="127.0.0.1:$port"
  (umask 077 && password_line keeper >"$folder.admin" && password_line ourlet >"$folder.pass.new")
  keeper=$(cut -d: -f5 "$folder.admin")
  plain=$(cut -d: -f5 "$folder.pass.new")
  {
    "$bin/psql" -q -v ON_ERROR_STOP=1 "postgres://ourlet@$at/postgres" -c "DROP ROLE IF EXISTS handover" -c "CREATE ROLE handover SUPERUSER LOGIN" &&
      "$bin/psql" -q -v ON_ERROR_STOP=1 "postgres://handover@$at/postgres" -c "ALTER ROLE ourlet RENAME TO keeper" \
        -c "ALTER ROLE keeper PASSWORD '$keeper'" -c "CREATE ROLE ourlet LOGIN PASSWORD '$plain'" -c "ALTER DATABASE ourlet OWNER TO ourlet" &&
      "$bin/psql" -q -v ON_ERROR_STOP=1 "postgres://keeper@$at/ourlet" -c "ALTER SCHEMA public OWNER TO ourlet" -c "DO \$\$
        DECLARE t record;
        BEGIN
          FOR t IN SELECT relname FROM pg_class WHERE relnamespace = 'public'::regnamespace AND relkind = 'r' LOOP
            EXECUTE format('ALTER TABLE public.%I OWNER TO ourlet', t.relname);
          END LOOP;
        END \$\$" -c "DROP ROLE handover"
  } || fail "the database could not be closed to other accounts; nothing in it was changed"
  sed -i 's/trust$/scram-sha-256/' "$folder/pg_hba.conf"
  (cd / && as_pg "$bin/pg_ctl" -D "$folder" reload) >/dev/null
  mv "$folder.pass.new" "$folder.pass"
}

pg_stop() {
  (cd / && as_pg "$(pg_bin)/pg_ctl" -D "$1" -m fast -w stop) >/dev/null 2>&1 || true
}
