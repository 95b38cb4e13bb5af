import { TemplateFault } from '@heron/core/templates'
import { answer } from '../../platform/thread-side'
import { tasks } from './work'
import { Unreadable } from './zip'

answer(tasks, (error) => (error instanceof Unreadable || error instanceof TemplateFault ? error.message : null))
