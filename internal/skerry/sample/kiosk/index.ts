import {registerRootComponent} from 'expo';

import {Desk} from './Desk';

registerRootComponent(Desk);
