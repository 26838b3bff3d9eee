<script setup lang="ts">
import PlainPage from '@/components/page/PlainPage.vue'
import ColorKeys from '@/instruments/ColorKeys.vue'
import CoverArt from '@/instruments/CoverArt.vue'
import LampPendant from '@/instruments/LampPendant.vue'
import LevelScale from '@/instruments/LevelScale.vue'
import LockBolt from '@/instruments/LockBolt.vue'
import LockKey from '@/instruments/LockKey.vue'
import OpeningPlan from '@/instruments/OpeningPlan.vue'
import PlayerFace from '@/instruments/PlayerFace.vue'
import RuleKey from '@/instruments/RuleKey.vue'
import ShutterWindow from '@/instruments/ShutterWindow.vue'
import SparkLine from '@/instruments/SparkLine.vue'
import WarmthScale from '@/instruments/WarmthScale.vue'
import type { Certainty } from '@/lib/certainty'

/** For developers: every instrument in every state. A test compares its picture. */
const states: Certainty[] = ['confirmed', 'pending', 'assumed', 'silent', 'failed', 'unknown']
const sizes = ['row', 'page', 'panel'] as const
const color = { name: 'color' }
const helds = ['hand', 'automation'] as const
const HOUR = 3_600_000
const line = [18, 18.2, 17.9, 18.6, 19.4, 19.2, 19.3].map((value, i) => ({ at: i * HOUR, value }))
</script>

<template>
  <PlainPage title="Instruments">
    <template #lead>For developers: every face in every state, in each of its sizes.</template>
    <table>
      <thead>
        <tr>
          <th scope="col">Face</th>
          <th v-for="s in states" :key="s" scope="col">{{ s }}</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="size in sizes" :key="size">
          <tr>
            <th scope="row">lamp, on and off, {{ size }}</th>
            <td v-for="s in states" :key="s">
              <LampPendant label="Lamp on" on :level="60" :certainty="s" :size="size" still />
              <LampPendant label="Lamp off" :on="false" :certainty="s" :size="size" still />
            </td>
          </tr>
          <tr>
            <th scope="row">door, shut and open, {{ size }}</th>
            <td v-for="s in states" :key="s">
              <OpeningPlan label="Door shut" :open="false" :certainty="s" :size="size" />
              <OpeningPlan label="Door open" open :certainty="s" :size="size" />
            </td>
          </tr>
          <tr>
            <th scope="row">lock, shot and drawn, {{ size }}</th>
            <td v-for="s in states" :key="s">
              <LockBolt label="Locked" locked :certainty="s" :size="size" />
              <LockBolt label="Not locked" :locked="false" :certainty="s" :size="size" />
            </td>
          </tr>
          <tr>
            <th scope="row">level, {{ size }}</th>
            <td v-for="s in states" :key="s">
              <LevelScale
                :label="`Level, ${s}, ${size}`"
                :value="40"
                :asked="s === 'pending' ? 75 : undefined"
                :minimum="0"
                :maximum="100"
                unit="%"
                :certainty="s"
                :size="size"
              />
            </td>
          </tr>
          <tr>
            <th scope="row">warmth with a target, {{ size }}</th>
            <td v-for="s in states" :key="s">
              <WarmthScale
                :label="`Warmth, ${s}, ${size}`"
                :measured="s === 'unknown' ? undefined : 18.2"
                :wanted="21"
                :asked="s === 'pending' ? 23 : undefined"
                :minimum="5"
                :maximum="30"
                :certainty="s"
                :size="size"
              />
            </td>
          </tr>
          <tr>
            <th scope="row">lock that is worked from here, {{ size }}</th>
            <td v-for="s in states" :key="s">
              <LockKey :label="`Lock, ${s}, ${size}`" :locked="s !== 'failed'" :certainty="s" :size="size" />
            </td>
          </tr>
          <tr>
            <th scope="row">player, {{ size }}</th>
            <td v-for="s in states" :key="s">
              <PlayerFace
                :label="`Player, ${s}, ${size}`"
                track="Slow water"
                :playing="s !== 'unknown'"
                :certainty="s"
                skips
                :volume="28"
                :volume-certainty="s === 'pending' ? 'confirmed' : s"
                :muted="s === 'silent'"
                :size="size"
              />
            </td>
          </tr>
          <tr>
            <th scope="row">rule: at rest, acting, asked for, failed, only shown, {{ size }}</th>
            <td><RuleKey :label="`At rest, ${size}`" verb="Run" :size="size" /></td>
            <td><RuleKey :label="`Acting, ${size}`" verb="Running" on :size="size" /></td>
            <td><RuleKey :label="`Asked for, ${size}`" verb="Run" pending :size="size" /></td>
            <td><RuleKey :label="`Failed, ${size}`" verb="Run" failed :size="size" /></td>
            <td><RuleKey :label="`Only shown, ${size}`" verb="waiting" :size="size" still /></td>
          </tr>
          <tr>
            <th scope="row">line of the last hours, {{ size }}</th>
            <td><SparkLine :points="line" :from="0" :to="7 * HOUR" :size="size" /></td>
            <td><SparkLine :points="line.slice(0, 2)" :from="0" :to="7 * HOUR" :size="size" /></td>
            <td><SparkLine :points="[]" :from="0" :to="7 * HOUR" :size="size" /></td>
          </tr>
        </template>
        <tr>
          <th scope="row">held by a hand, by a rule</th>
          <td v-for="h in helds" :key="h">
            <LampPendant label="Lamp held" on :level="60" :held="h" size="panel" still />
          </td>
        </tr>
        <tr>
          <th scope="row">shutter: shut, half, open, moving, unknown</th>
          <td><ShutterWindow label="Shut" :place="0" /></td>
          <td><ShutterWindow label="Half" :place="50" :tilt="40" /></td>
          <td><ShutterWindow label="Open" :place="100" /></td>
          <td><ShutterWindow label="Moving up" :place="30" moving="up" :goal="80" /></td>
          <td><ShutterWindow label="Unknown" :place="0" :known="false" /></td>
          <td>
            <ShutterWindow label="Half, small" :place="50" size="row" />
            <ShutterWindow label="Half, large" :place="50" size="panel" />
          </td>
        </tr>
        <tr>
          <th scope="row">colors of a lamp: usable, not usable</th>
          <td colspan="3"><ColorKeys label="Lamp" device="" :property="color" swatch="#ffb46b" /></td>
          <td colspan="3"><ColorKeys label="Other lamp" device="" :property="color" disabled /></td>
        </tr>
        <tr>
          <th scope="row">cover: of two pieces, of nothing</th>
          <td v-for="track in ['Slow water', 'Leat in March', '']" :key="track">
            <div class="cover"><CoverArt :track="track" /></div>
          </td>
        </tr>
      </tbody>
    </table>
  </PlainPage>
</template>

<style scoped>
.cover {
  height: 90px;
}
table {
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  font-size: var(--type-note);
  font-weight: 400;
  color: var(--ink-soft);
  padding: var(--space-6) var(--space-10) var(--space-6) 0;
  border-bottom: 1px solid var(--rule);
}
th[scope='row'] {
  min-width: 120px;
}
td {
  min-width: 140px;
}
</style>
