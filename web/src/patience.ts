import { configure } from '@testing-library/dom'

// A machine that does much else takes longer than a second over what is waited for; one second is for what is asked to be quick.
configure({ asyncUtilTimeout: 8_000 })
