import { inject, type InjectionKey } from 'vue'
import { useNotices } from '@/stores/notices'

/** Runs something and tells of its failure; returns whether it worked. */
export type Attempt = (action: () => Promise<unknown>) => Promise<boolean>

/** Where what fails is told, of those that stand within something that tells it itself. */
export const attemptKey: InjectionKey<Attempt> = Symbol('attempt')

/** How to try something here: what fails is told where it was tried, else at the foot of the page. */
export const useAttempt = (): Attempt => inject(attemptKey, useNotices().attempt)
