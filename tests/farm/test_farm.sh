#!/usr/bin/env bash
# A real farm on this machine (Slurm 22.05, no systemd, nothing under /etc): a delivery in chunks, a frame that fails, a
# node that dies, runs that are killed, a farm that refuses; what comes out is bit for bit what one machine renders.
# ./test_farm.sh CLI DEMO [KILLS]
set -euo pipefail
cli=$1 demo=$2 kills=${3:-3}
for program in slurmctld slurmd munged sbatch squeue scontrol; do
    command -v $program >/dev/null || PATH=$PATH:/usr/sbin command -v $program >/dev/null || { echo "skipped: no $program"; exit 77; }
done
PATH=$PATH:/usr/sbin
work=$(mktemp -d)
host=$(hostname -s)
fail() { echo "$*" >&2; tail -n 5 "$work"/log/*.log "$work"/del*/*/.retinex/farm/*.log 2>/dev/null >&2 || true; exit 1; }
stop() {
    scancel -u "$(id -un)" 2>/dev/null || true
    for file in "$work/slurmd.pid" "$work/slurmctld.pid" "$work/munge/pid"; do
        [ -f "$file" ] && kill "$(cat "$file")" 2>/dev/null || true
    done
    # What they write last may come while it goes.
    for _ in $(seq 20); do rm -rf "$work" 2>/dev/null && break; sleep 0.2; done
}
trap stop EXIT

mkdir -p "$work"/{state,spool,log,munge}
chmod 755 "$work" "$work/munge"
(umask 077 && head -c 1024 /dev/urandom >"$work/munge/key")
port=$((20000 + RANDOM % 20000))
cat >"$work/slurm.conf" <<CONF
ClusterName=local
SlurmctldHost=$host(127.0.0.1)
SlurmctldPort=$port
SlurmdPort=$((port + 1))
AuthType=auth/munge
AuthInfo=socket=$work/munge/socket
CredType=cred/munge
SlurmUser=$(id -un)
SlurmdUser=$(id -un)
StateSaveLocation=$work/state
SlurmdSpoolDir=$work/spool
SlurmctldPidFile=$work/slurmctld.pid
SlurmdPidFile=$work/slurmd.pid
SlurmctldLogFile=$work/log/slurmctld.log
SlurmdLogFile=$work/log/slurmd.log
ProctrackType=proctrack/linuxproc
TaskPlugin=task/none
MpiDefault=none
SelectType=select/cons_tres
SelectTypeParameters=CR_Core
AccountingStorageType=accounting_storage/none
JobAcctGatherType=jobacct_gather/none
MinJobAge=3600
ReturnToService=2
SlurmdTimeout=10
SlurmdParameters=config_overrides
SchedulerParameters=batch_sched_delay=0,sched_interval=1,bf_interval=1
NodeName=$host NodeAddr=127.0.0.1 CPUs=$(nproc) RealMemory=1024 State=UNKNOWN
PartitionName=local Nodes=$host Default=YES MaxTime=INFINITE State=UP
CONF
export SLURM_CONF=$work/slurm.conf
munged --key-file="$work/munge/key" --socket="$work/munge/socket" --pid-file="$work/munge/pid" \
    --log-file="$work/munge/log" --seed-file="$work/munge/seed"
slurmctld
slurmd -N "$host"
for _ in $(seq 50); do sinfo -h -o %T 2>/dev/null | grep -q idle && break; sleep 0.2; done

# A project of twelve frames beside its passes.
mkdir "$work/job"
for frame in $(seq -f %04g 1 12); do cp "$demo/greenhouse.$frame.exr" "$work/job/"; done
cat >"$work/job/job.retinex" <<JSON
{"format": 3,
 "passes": {"colour": {"file": "greenhouse.####.exr"}, "depth": {"file": "", "channel": "Z"}},
 "frames": {"first": 1, "last": 12},
 "shots": [{"lens": {"fStop": 1.4}, "focus": {"distance": 2.3}, "finish": {"grain": {"amount": 0.02}}}],
 "deliveries": [{"id": "1", "name": "plates", "file": "exr"}]}
JSON
cd "$work"
"$cli" render job/job.retinex --out alone --progress none
same() { for frame in $(seq -f %04g 1 12); do cmp -s "alone/job.$frame.exr" "$1/job.$frame.exr" || fail "frame $frame is missing or another"; done; }

"$cli" submit job/job.retinex --delivery plates --chunk 5 --out del0 --dry-run | grep -q -- '--array=0-2' || fail "a dry run says other chunks"
"$cli" submit job/job.retinex --delivery plates --chunk 5 --out del1 --wait || fail "the farm did not deliver"
same del1
echo "chunks: as rendered alone"

# From here on frames do not look at each other: what one lacks would be missed in others as well.
sed -i 's/{"lens"/{"repair": {"views": "off"}, "lens"/' job/job.retinex
rm -r alone
"$cli" render job/job.retinex --out alone --progress none

# A farm that refuses.
"$cli" submit job/job.retinex --delivery plates --out del2 --partition nowhere 2>refused && fail "nowhere is no partition"
grep -q 'refuses' refused || fail "the refusal is not told: $(cat refused)"

# A frame that fails: named, with the command that retries it; the others are there.
head -c 20000 job/greenhouse.0007.exr >cut && mv job/greenhouse.0007.exr whole.exr && mv cut job/greenhouse.0007.exr
"$cli" submit job/job.retinex --delivery plates --chunk 4 --out del3 --wait >said 2>&1 && fail "a cut frame was delivered"
grep -q 'Frames 7 are missing' said || fail "the failing frame is not named: $(cat said)"
[ "$(ls del3/*.exr | wc -l)" = 11 ] || fail "the others are not there"
mv whole.exr job/greenhouse.0007.exr # as old as it was: what it is made from counts
retry=$(grep '^retinex-cli submit' said)
eval "${retry/retinex-cli/\"$cli\"} --wait" || fail "the retry failed"
same del3
echo "a failing frame: named, retried"

# The node's daemon and what it runs are killed: the jobs go on when it is back.
"$cli" submit job/job.retinex --delivery plates --chunk 2 --out del4 >numbers
for _ in $(seq 100); do ls del4/job.*.exr >/dev/null 2>&1 && break; sleep 0.1; done
kill -9 "$(cat slurmd.pid)"
pkill -9 -f 'slurmstepd' || true
pkill -9 -f "$cli render .*job.retinex" || true
for file in del4/job.*.exr; do "$cli" inspect "$file" >/dev/null || fail "$file is half written"; done
slurmd -N "$host"
for _ in $(seq 200); do
    [ "$(ls del4/job.*.exr 2>/dev/null | wc -l)" = 12 ] && [ -z "$(squeue -h -t PD,R,CG)" ] && break
    sleep 0.5
done
# Whatever was lost is made by the next run.
"$cli" submit job/job.retinex --delivery plates --chunk 2 --out del4 --wait || fail "it did not go on after the node died"
same del4
echo "a node that died: gone on with"

# What runs on the nodes is killed again and again, in even steps through a delivery.
done=0
while ((done < kills)); do
    rm -rf del5
    for ((turn = 0; turn < 4 && done < kills; ++turn, ++done)); do
        "$cli" submit job/job.retinex --delivery plates --chunk 3 --out del5 >>numbers 2>&1
        sleep "$(printf '%d.%03d' $((done * 397 % 1000 / 500)) $((done * 397 % 1000)))"
        pkill -9 -f "$cli render .*del5" || true
        scancel -u "$(id -un)"
        for _ in $(seq 100); do [ -z "$(squeue -h)" ] && break; sleep 0.1; done
        pkill -9 -f "$cli render .*del5" || true # one that had been starting
        for file in del5/job.*.exr; do
            [ ! -f "$file" ] || cmp -s "$file" "alone/${file#del5/}" || fail "after kill $done: $file is not whole"
        done
    done
    "$cli" submit job/job.retinex --delivery plates --chunk 3 --out del5 --wait || fail "it did not go on after kill $done"
    same del5
done
echo "$kills kills: every file whole or absent, and the same in the end"
