import { onScopeDispose } from 'vue'
import { useHome } from '@/stores/home'

/** Has what is told only to those who look at it told to this page, for as long as it is there. */
export function useLooking(at: Parameters<ReturnType<typeof useHome>['look']>[0]) {
  onScopeDispose(useHome().look(at))
}
